/**
 * What conditions can be told about by reasoning on ranges and options, not by their text: whether they can hold,
 * always hold, or hold together. Three-valued as the language is: a comparison with blank is unknown.
 */
import type { Comparison, ComparisonOperator, Expression, UnaryTest } from '../language/expression/ast.ts';
import type { Scope } from '../language/expression/scope.ts';
import { previousName, selfName } from '../language/expression/scope.ts';
import type { Type } from '../language/types/types.ts';
import type { Field } from '../document/document.ts';
import { dayNumber, FeelDate } from '../values/calendar.ts';
import { fieldTypeOf } from '../language/field-types/index.ts';
import { everySpan, isEmptyRegion, meetRegions, onSteps, type Region, type Span } from './regions.ts';

/** Values by variable, all of which have to hold; `sure`: nothing in it was only assumed possible. */
interface Case {
  readonly regions: ReadonlyMap<string, Region>;
  readonly sure: boolean;
}

/** The cases in which an expression is true, false, or neither. */
export interface Verdicts {
  readonly yes: readonly Case[];
  readonly no: readonly Case[];
  readonly unknown: readonly Case[];
}

/** More cases than this are not followed; the answer is then *unknown*. */
const mostCases = 200;

export type Possible = 'yes' | 'never' | 'unknown';

const anything: Case = { regions: new Map(), sure: true };
/** True, or false, whatever the record is. */
const settled = (holds: boolean): Verdicts => ({
  yes: holds ? [anything] : [],
  no: holds ? [] : [anything],
  unknown: [],
});

function both(a: readonly Case[], b: readonly Case[]): Case[] {
  const found: Case[] = [];
  for (const x of a)
    for (const y of b) {
      const met = meet(x, y);
      if (met) found.push(met);
      if (found.length > mostCases) throw new TooMany();
    }
  return found;
}

function meet(a: Case, b: Case): Case | undefined {
  const regions = new Map(a.regions);
  for (const [name, region] of b.regions) {
    const known = regions.get(name);
    const met = known ? meetRegions(known, region) : region;
    if (isEmptyRegion(met)) return undefined;
    regions.set(name, met);
  }
  return { regions, sure: a.sure && b.sure };
}

class TooMany extends Error {}

const one = (name: string, region: Region, sure = true): Case[] =>
  isEmptyRegion(region) ? [] : [{ regions: new Map([[name, region]]), sure }];

interface Variable {
  readonly name: string;
  readonly type: Type;
  readonly field: Field | undefined;
}

export class Reasoner {
  private readonly scope: Scope;
  private readonly text: string;
  private readonly fields: readonly Field[];

  constructor(scope: Scope, fields: readonly Field[], text: string) {
    this.scope = scope;
    this.fields = fields;
    this.text = text;
  }

  verdicts(e: Expression): Verdicts {
    switch (e.kind) {
      case 'literal':
        return typeof e.value === 'boolean' ? settled(e.value) : { yes: [], no: [], unknown: [anything] };
      case 'and':
      case 'or':
        return this.junction(e.kind, this.verdicts(e.left), this.verdicts(e.right));
      case 'comparison':
        return this.comparison(e) ?? this.opaque(e);
      case 'between': {
        const variable = this.variable(e.operand);
        const [low, high] = [numberOf(e.low), numberOf(e.high)];
        if (!variable || low === undefined || high === undefined) return this.opaque(e);
        return this.numeric(variable, [{ low, lowOpen: false, high, highOpen: false }]);
      }
      case 'in':
        return this.membership(e.operand, e.tests) ?? this.opaque(e);
      case 'call':
        return this.call(e) ?? this.opaque(e);
      case 'name':
      case 'path': {
        const variable = this.variable(e);
        return variable?.type.kind === 'boolean' ? this.named(variable, ['true'], ['false']) : this.opaque(e);
      }
      default:
        return this.opaque(e);
    }
  }

  private junction(kind: 'and' | 'or', a: Verdicts, b: Verdicts): Verdicts {
    const [strong, weak] = kind === 'and' ? (['no', 'yes'] as const) : (['yes', 'no'] as const);
    const decided = [...a[strong], ...b[strong]];
    const all = both(a[weak], b[weak]);
    const unknown = [...both(a.unknown, b.unknown), ...both(a.unknown, b[weak]), ...both(a[weak], b.unknown)];
    return kind === 'and' ? { yes: all, no: decided, unknown } : { yes: decided, no: all, unknown };
  }

  private call(e: Extract<Expression, { kind: 'call' }>): Verdicts | undefined {
    const [only] = e.arguments;
    if (e.arguments.length !== 1 || !only) return undefined;
    if (e.name === 'not') {
      const { yes, no, unknown } = this.verdicts(only);
      return { yes: no, no: yes, unknown };
    }
    const variable = e.name === 'is blank' ? this.variable(only) : undefined;
    return variable && this.blankness(variable, true);
  }

  private blankness(variable: Variable, isBlank: boolean): Verdicts {
    const filled = { ...this.universe(variable), blank: false };
    const [empty, full] = [one(variable.name, blankOf(filled)), one(variable.name, filled)];
    return isBlank ? { yes: empty, no: full, unknown: [] } : { yes: full, no: empty, unknown: [] };
  }

  /** What cannot be reasoned on may be anything, but the same text is the same thing. */
  private opaque(e: Expression): Verdicts {
    const name = `?${this.text.slice(e.range.from, e.range.to).replace(/\s+/g, ' ')}`;
    const is = (v: string): Case[] => one(name, { blank: false, names: { only: true, list: new Set([v]) } }, false);
    return { yes: is('true'), no: is('false'), unknown: is('null') };
  }

  private variable(e: Expression): Variable | undefined {
    const previous = e.kind === 'path' && e.object.kind === 'name' && e.object.name === previousName;
    const self = e.kind === 'path' && e.object.kind === 'name' && e.object.name === selfName;
    if (e.kind !== 'name' && !previous && !self) return undefined;
    const binding = this.scope.fields.get((e as { name: string }).name);
    if (!binding) return undefined;
    return {
      name: `${previous ? 'previous.' : ''}${binding.field.name}`,
      type: binding.type,
      field: this.fields[binding.slot],
    };
  }

  private universe({ type, field }: Variable): Region {
    if (type.kind === 'option') return { blank: true, names: { only: true, list: new Set(type.options.names) } };
    if (type.kind === 'boolean') return { blank: true, names: { only: true, list: new Set(['true', 'false']) } };
    if (type.kind === 'number') {
      const bounds = { low: field?.min ?? -Infinity, lowOpen: false, high: field?.max ?? Infinity, highOpen: false };
      return { blank: true, spans: onSteps([bounds], stepOf(field)) };
    }
    if (type.kind === 'date') return { blank: true, spans: [everySpan] };
    // A text that holds nothing is blank.
    if (type.kind === 'text') return { blank: true, names: { only: false, list: new Set(['']) } };
    return { blank: true };
  }

  private comparison(e: Comparison): Verdicts | undefined {
    const [left, right] = [this.variable(e.left), this.variable(e.right)];
    if (left) return this.compared(left, e.operator, e.right);
    return right && this.compared(right, turned[e.operator], e.left);
  }

  private compared(variable: Variable, operator: ComparisonOperator, value: Expression): Verdicts | undefined {
    if (value.kind === 'literal' && value.value === null) {
      if (!equality(operator)) return undefined;
      // A list that is blank is an empty one, which is not null.
      if (variable.type.kind === 'list') return settled(operator === '!=');
      return this.blankness(variable, operator === '=');
    }
    const n = numberOf(value);
    if (n !== undefined) {
      if (variable.type.kind !== 'number' && variable.type.kind !== 'date') return undefined;
      const verdicts = this.numeric(variable, spansOf(operator, n));
      return equality(operator) ? this.definite(variable, operator, verdicts) : verdicts;
    }
    const name = nameOf(value);
    if (name === undefined) return undefined;
    if (equality(operator)) {
      const verdicts = this.named(
        variable,
        operator === '=' ? [name] : undefined,
        operator === '=' ? undefined : [name],
      );
      return this.definite(variable, operator, verdicts);
    }
    const { type } = variable;
    if (type.kind !== 'option' || !type.options.order) return undefined;
    const rank = type.options.order.get(name);
    if (rank === undefined) return undefined;
    const holds = compareRanks[operator];
    const ordered = [...type.options.order];
    const pick = (wanted: boolean): string[] => ordered.filter(([, r]) => holds!(r - rank) === wanted).map(([o]) => o);
    return this.named(variable, pick(true), pick(false));
  }

  /** `=` and `!=` are never unknown: blank equals only blank. */
  private definite(variable: Variable, operator: ComparisonOperator, { yes, no }: Verdicts): Verdicts {
    const empty = one(variable.name, blankOf(this.universe(variable)));
    return operator === '='
      ? { yes, no: [...no, ...empty], unknown: [] }
      : { yes: [...yes, ...empty], no, unknown: [] };
  }

  private numeric(variable: Variable, spans: readonly Span[]): Verdicts {
    const all = { ...this.universe(variable), blank: false };
    const step = stepOf(variable.field);
    return {
      yes: one(variable.name, meetRegions(all, { blank: false, spans: onSteps(spans, step) })),
      no: one(variable.name, meetRegions(all, { blank: false, spans: onSteps(complement(spans), step) })),
      unknown: one(variable.name, blankOf(all)),
    };
  }

  /** True for these names, false for those; one of them left out: all others. */
  private named(variable: Variable, yes: readonly string[] | undefined, no: readonly string[] | undefined): Verdicts {
    const all = { ...this.universe(variable), blank: false };
    const region = (names: readonly string[] | undefined, others: readonly string[] | undefined): Region =>
      meetRegions(all, {
        blank: false,
        names: names ? { only: true, list: new Set(names) } : { only: false, list: new Set(others) },
      });
    return {
      yes: one(variable.name, region(yes, no)),
      no: one(variable.name, region(no, yes)),
      unknown: one(variable.name, blankOf(all)),
    };
  }

  private membership(operand: Expression, tests: readonly UnaryTest[]): Verdicts | undefined {
    const variable = this.variable(operand);
    if (!variable) return undefined;
    const parts = tests.map((t) => this.test(variable, t));
    if (!parts.every((p) => p !== undefined)) return undefined;
    return parts.reduce((a, b) => this.junction('or', a, b));
  }

  private test(variable: Variable, t: UnaryTest): Verdicts | undefined {
    if (t.kind === 'compare') return this.compared(variable, t.operator, t.value);
    if (t.kind === 'interval') {
      const [low, high] = [numberOf(t.low), numberOf(t.high)];
      if (low === undefined || high === undefined) return undefined;
      return this.numeric(variable, [{ low, lowOpen: !t.lowIncluded, high, highOpen: !t.highIncluded }]);
    }
    if (t.value.kind === 'list') return this.anyOf(variable, t.value.items);
    if (t.value.kind === 'range') return this.test(variable, { ...t.value, kind: 'interval' });
    return this.compared(variable, '=', t.value);
  }

  private anyOf(variable: Variable, items: readonly Expression[]): Verdicts | undefined {
    const parts = items.map((item) => this.compared(variable, '=', item));
    if (parts.length === 0 || !parts.every((p) => p !== undefined)) return undefined;
    return parts.reduce((a, b) => this.junction('or', a, b));
  }

  /** The cases in which a variable lies in a region. */
  within(source: Expression, region: Region): readonly Case[] | undefined {
    const variable = this.variable(source);
    if (!variable) return undefined;
    const spans = region.spans && { spans: onSteps(region.spans, stepOf(variable.field)) };
    return one(variable.name, meetRegions(this.universe(variable), { ...region, ...spans }));
  }
}

const turned: Readonly<Record<ComparisonOperator, ComparisonOperator>> = {
  '=': '=',
  '!=': '!=',
  '<': '>',
  '<=': '>=',
  '>': '<',
  '>=': '<=',
};
const compareRanks: Readonly<Record<string, (by: number) => boolean>> = {
  '<': (by) => by < 0,
  '<=': (by) => by <= 0,
  '>': (by) => by > 0,
  '>=': (by) => by >= 0,
};
const equality = (operator: ComparisonOperator): boolean => operator === '=' || operator === '!=';

const blankOf = (region: Region): Region => ({
  blank: true,
  ...(region.spans ? { spans: [] } : { names: { only: true, list: new Set<string>() } }),
});

/** A number or date that stands in the text. */
export function numberOf(e: Expression): number | undefined {
  if (e.kind === 'call' && e.name === 'date' && e.arguments.length === 1) {
    const [text] = e.arguments;
    const m =
      text?.kind === 'literal' && typeof text.value === 'string' ? /^(\d{4})-(\d\d)-(\d\d)$/.exec(text.value) : null;
    return m ? dayNumber(new FeelDate(Number(m[1]), Number(m[2]), Number(m[3]))) : undefined;
  }
  if (e.kind !== 'literal') return undefined;
  if (typeof e.value === 'number') return e.value;
  return e.value instanceof FeelDate ? dayNumber(e.value) : undefined;
}

function nameOf(e: Expression): string | undefined {
  if (e.kind !== 'literal') return undefined;
  return typeof e.value === 'string' ? e.value : typeof e.value === 'boolean' ? String(e.value) : undefined;
}

function spansOf(operator: ComparisonOperator, n: number): readonly Span[] {
  const below = (open: boolean): Span => ({ ...everySpan, high: n, highOpen: open });
  const above = (open: boolean): Span => ({ ...everySpan, low: n, lowOpen: open });
  switch (operator) {
    case '<':
      return [below(true)];
    case '<=':
      return [below(false)];
    case '>':
      return [above(true)];
    case '>=':
      return [above(false)];
    case '=':
      return [{ low: n, lowOpen: false, high: n, highOpen: false }];
    case '!=':
      return [below(true), above(true)];
  }
}

function complement(spans: readonly Span[]): readonly Span[] {
  return spans.reduce<readonly Span[]>(
    (so, s) =>
      so.flatMap((left) => {
        const parts: Span[] = [
          { ...left, high: Math.min(left.high, s.low), highOpen: s.low <= left.high ? !s.lowOpen : left.highOpen },
          { ...left, low: Math.max(left.low, s.high), lowOpen: s.high >= left.low ? !s.highOpen : left.lowOpen },
        ];
        return parts.filter((p) => p.low < p.high || (p.low === p.high && !p.lowOpen && !p.highOpen));
      }),
    [everySpan],
  );
}

/** What lies between two values that a field can hold: whole numbers, days, cents. */
const stepOf = (field: Field | undefined): number | undefined => field && fieldTypeOf(field).step?.(field);

const summary = (cases: readonly Case[]): Possible =>
  cases.length === 0 ? 'never' : cases.some((c) => c.sure) ? 'yes' : 'unknown';

/** Answers *unknown* where there are more cases than can be followed. */
function guarded(work: () => Possible): Possible {
  try {
    return work();
  } catch (e) {
    if (e instanceof TooMany) return 'unknown';
    throw e;
  }
}

export interface Condition {
  readonly text: string;
  readonly expression: Expression;
}

export const canHold = (c: Condition, scope: Scope, fields: readonly Field[]): Possible =>
  guarded(() => summary(new Reasoner(scope, fields, c.text).verdicts(c.expression).yes));

/** `never`: the condition holds whatever the record is. */
export const canFail = (c: Condition, scope: Scope, fields: readonly Field[]): Possible =>
  guarded(() => {
    const { no, unknown } = new Reasoner(scope, fields, c.text).verdicts(c.expression);
    return summary([...no, ...unknown]);
  });

/** Whether two conditions can hold of one record. Absent: always holds. */
export function canHoldTogether(
  a: Condition | undefined,
  b: Condition | undefined,
  scope: Scope,
  fields: readonly Field[],
): Possible {
  return guarded(() => {
    const cases = (c: Condition | undefined): readonly Case[] =>
      c ? new Reasoner(scope, fields, c.text).verdicts(c.expression).yes : [anything];
    return summary(both(cases(a), cases(b)));
  });
}

/** Whether a condition leaves a field some value of a region. */
export function canReach(
  condition: Condition | undefined,
  source: Condition,
  region: Region,
  scope: Scope,
  fields: readonly Field[],
): Possible {
  return guarded(() => {
    const within = new Reasoner(scope, fields, source.text).within(source.expression, region);
    if (!within) return 'unknown';
    const cases = condition
      ? new Reasoner(scope, fields, condition.text).verdicts(condition.expression).yes
      : [anything];
    return summary(both(cases, within));
  });
}

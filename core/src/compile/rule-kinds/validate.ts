import { optionsOf } from '../../language/types/types.ts';
import { becomes } from '../../language/wording/isolated.ts';
import { enumerate, sentences } from '../../language/wording/prose.ts';
import type { SentenceWords } from '../../language/wording/words.ts';
import type { Compiled } from '../../language/expression/runtime.ts';
import type { Scope } from '../../language/expression/scope.ts';
import { fieldTypeOf } from '../../language/field-types/index.ts';
import { findOption } from '../../language/field-types/options.ts';
import type { Field, RecordType } from '../../document/document.ts';
import { nameOfField } from '../../document/names.ts';
import { type Value, isBlank } from '../../values/value.ts';
import { OutcomeBuilder } from './outcome-builder.ts';
import { looseList, looseObject, looseText, looseTexts, oneOf } from './read-outcome.ts';
import type {
  CompiledOutcome,
  Constraint,
  FieldConstraints,
  Effect,
  Limit,
  OutcomeText,
  RuleKind,
  Step,
} from './rule-kind.ts';
import { type SlotIndex, noSlot } from '../../document/slots.ts';

export interface Check {
  /** *must* stops the save, *should* warns. */
  readonly hold: 'must' | 'should';
  /** FEEL, true or false; unknown violates nothing. */
  readonly formula: string;
  readonly message: string;
  /** Key of the field that the message stands on; empty: the record. */
  readonly field: string;
}

/** The options that a picklist offers, by the option (or value) of another field. */
export interface LimitOptions {
  /** Key of the field that is limited. */
  readonly field: string;
  /** FEEL; mostly the name of a field. */
  readonly source: string;
  /** Options by what the source gives, both by name or key. What is not listed limits nothing. */
  readonly grid: readonly { readonly value: string; readonly allowed: readonly string[] }[];
  /** When the value is no longer among them: stop, clear, or take the only one left (and clear where several are). */
  readonly otherwise: 'stop' | 'clear' | 'only';
  readonly message: string;
}

/** What has to hold of the settled record while the condition holds. */
export interface Validate {
  readonly checks: readonly Check[];
  readonly required: readonly string[];
  readonly hidden: readonly string[];
  readonly locked: readonly string[];
  readonly limits: readonly LimitOptions[];
  /** Key of the field that it was begun on, until something is asked of fields. */
  readonly about?: string;
}

export function readValidate(outcome: unknown): Validate {
  const o = looseObject(outcome);
  return {
    checks: looseList(o['checks']).map((c) => ({
      hold: oneOf(c['hold'], ['must', 'should'] as const),
      formula: looseText(c['formula']),
      message: looseText(c['message']),
      field: looseText(c['field']),
    })),
    required: looseTexts(o['required']),
    hidden: looseTexts(o['hidden']),
    locked: looseTexts(o['locked']),
    limits: looseList(o['limits']).map((l) => ({
      field: looseText(l['field']),
      source: looseText(l['source']),
      grid: looseList(l['grid']).map((row) => ({
        value: looseText(row['value']),
        allowed: looseTexts(row['allowed']),
      })),
      otherwise: oneOf(l['otherwise'], ['stop', 'clear', 'only'] as const),
      message: looseText(l['message']),
    })),
    ...(looseText(o['about']) ? { about: looseText(o['about']) } : {}),
  };
}

function compile(outcome: unknown, recordType: RecordType, scope: Scope): CompiledOutcome {
  const { checks, required, hidden, locked, limits } = readValidate(outcome);
  const builder = new OutcomeBuilder(recordType, scope);
  const constraints: Constraint[] = [];
  const slotOf = (key: string, path: string): SlotIndex => builder.target(key, path)?.slot ?? noSlot;
  if (checks.length + required.length + hidden.length + locked.length + limits.length === 0)
    builder.report('outcome.empty', '/outcome');
  checks.forEach((c, i) => {
    const path = `/outcome/checks/${i}`;
    const { evaluate } = builder.condition(c.formula, `${path}/formula`);
    if (c.message.trim() === '') builder.report('validate.no-message', `${path}/message`);
    const message = builder.message(c.message || escapedText(c.formula), `${path}/message`);
    const field = c.field ? { field: slotOf(c.field, `${path}/field`) } : {};
    if (!evaluate) return;
    const severity = c.hold === 'must' ? 'stop' : 'warn';
    constraints.push({ ...field, severity, message, holds: evaluate });
  });
  const slots = (keys: readonly string[], name: string): SlotIndex[] =>
    keys.map((key, i) => slotOf(key, `/outcome/${name}/${i}`));
  const demands = {
    constraints,
    required: slots(required, 'required'),
    hidden: slots(hidden, 'hidden'),
    locked: slots(locked, 'locked'),
    limits: limits.flatMap((limit, i) => compileLimit(limit, `/outcome/limits/${i}`, builder) ?? []),
  };
  const steps = demands.limits.filter((l) => l.otherwise !== 'stop').map((l) => confine(l, builder));
  // One that asks nothing of the record only tells someone: it sleeps and wakes as rules that write do.
  if (nothingAsked(demands)) return builder.finish({ steps: [] });
  return builder.finish(steps.length > 0 ? { demands, steps } : { demands });
}

/** Braces of a formula are its own. */
const escapedText = (formula: string): string => formula.replace(/[{}]/g, (brace) => brace + brace);

const nothingAsked = ({ constraints, required, hidden, locked, limits }: FieldConstraints): boolean =>
  constraints.length + required.length + hidden.length + locked.length + limits.length === 0;

function compileLimit(limit: LimitOptions, path: string, builder: OutcomeBuilder): Limit | undefined {
  const source = builder.formula(limit.source, `${path}/source`);
  const target = builder.target(limit.field, `${path}/field`);
  if (!target || !source.evaluate) return undefined;
  const { field, slot } = target;
  const sourceField = builder.recordType.fields.find((f) => f.name === limit.source.trim());
  const grid = new Map<string, readonly string[]>();
  limit.grid.forEach((_, i) => {
    builder.isOption(`${path}/grid/${i}/value`, optionsOf(source.type));
    builder.isOption(`${path}/grid/${i}/allowed`, field);
  });
  limit.grid.forEach((row, i) => {
    const keys = row.allowed.map((name) => {
      const option = findOption(field, name);
      if (!option) {
        const coerced = fieldTypeOf(field).coerce(name, field);
        const problem = 'problem' in coerced ? coerced.problem : 'is not an option';
        builder.report('map.pair', `${path}/grid/${i}/allowed`, { value: name, problem });
      }
      return option?.key ?? name;
    });
    const value = sourceName(row.value, sourceField, `${path}/grid/${i}/value`, builder);
    if (grid.has(value)) builder.report('map.twice', `${path}/grid/${i}/value`, { value });
    grid.set(value, keys);
  });
  const { otherwise } = limit;
  const message = limit.message || `${field.name} does not offer this option here.`;
  return { field: slot, otherwise, message, allowed: allowedBy(source.evaluate, grid) };
}

/** What is not among the options on offer goes, or the only one left takes its place; the engine knows all limits on the field. */
function confine({ field: slot }: Limit, builder: OutcomeBuilder): Step {
  const { key } = builder.recordType.fields[slot]!;
  if (!builder.writes.includes(key)) builder.writes.push(key);
  const effects: readonly Effect[] = [{ target: slot, act: 'confine' }];
  return () => effects;
}

/** The value of the source as formulas give it: the name of an option rather than its key. */
function sourceName(input: string, field: Field | undefined, path: string, builder: OutcomeBuilder): string {
  if (!field?.options) return input;
  const option = findOption(field, input);
  if (!option) builder.report('option.unknown', path, { field: field.name, option: input });
  return option?.name ?? input;
}

const allowedBy =
  (source: Compiled, grid: ReadonlyMap<string, readonly string[]>): Limit['allowed'] =>
  (env) => {
    const v: Value = source(env);
    return isBlank(v) ? undefined : grid.get(String(v));
  };

function clauses(outcome: unknown, recordType: RecordType, words: SentenceWords): string[] {
  const { checks, required, hidden, locked, limits } = readValidate(outcome);
  const names = (keys: readonly string[]): string => enumerate(keys.map((k) => nameOfField(recordType.fields, k)));
  const are = (keys: readonly string[], what: string): string[] =>
    keys.length === 0 ? [] : [`${names(keys)} ${keys.length > 1 ? 'are' : 'is'} ${what}`];
  return [
    ...checks.map((c) => `${holds[c.hold]} ${words.condition(c.formula)}: “${c.message}”`),
    ...are(required, 'required'),
    ...are(hidden, 'hidden'),
    ...are(locked, 'locked'),
    ...limits.map((l) => `${names([l.field])} offers ${gridText(l, recordType)}`),
  ];
}

const holds = { must: 'it is not saved unless', should: 'people are warned unless' } as const;

/** An option by its name, whether it is kept by key or by name. */
function gridText({ field: key, grid, source }: LimitOptions, { fields }: RecordType): string {
  const field = fields.find((f) => f.key === key);
  const offered = (allowed: readonly string[]): string =>
    enumerate(allowed.map((v) => (field && findOption(field, v)?.name) || v)) || 'nothing';
  return grid
    .map(({ value, allowed }, i) => `${offered(allowed)} for ${i === 0 ? `${source} ` : ''}${value}`)
    .join('; ');
}

export const validate: RuleKind<'validate'> = {
  key: 'validate',
  name: 'Validate',
  help: 'What must or should hold; what is required, locked, hidden or limited to some options.',
  compile,
  clauses,
  replaces: false,
  targets(outcome) {
    const { checks, required, hidden, locked, limits, about } = readValidate(outcome);
    const named = [...checks.map((c) => c.field), ...required, ...hidden, ...locked, ...limits.map((l) => l.field)];
    const asked = [...new Set(named.filter(Boolean))];
    return asked.length === 0 && about ? [about] : asked;
  },
  texts(outcome) {
    const { checks, limits } = readValidate(outcome);
    return [
      ...checks.flatMap((c, i): OutcomeText[] => [
        { path: `/checks/${i}/formula`, text: c.formula },
        { path: `/checks/${i}/message`, text: c.message, template: true },
      ]),
      ...limits.map((l, i) => ({ path: `/limits/${i}/source`, text: l.source })),
    ];
  },
  differences(before, after, recordType, words) {
    const [a, b] = [before, after].map((o) => sentences(clauses(o, recordType, words)));
    return a === b ? [] : [becomes(a!, b!)];
  },
  // It asks nothing until something is asked; one that only notifies is as good a beginning.
  createOutcome: (target): Validate => ({
    checks: [],
    required: [],
    hidden: [],
    locked: [],
    limits: [],
    about: target.key,
  }),
};

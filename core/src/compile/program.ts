/** A rulebook compiled: rules with their reads, writes and closures, in the order in which they run. */
import {
  type CompiledRule,
  type ConditionPart,
  type Program,
  type RuleReads,
  type RunIndex,
  type TypeProgram,
  pathKey,
} from './compiled.ts';
import { type Diagnostic, diagnostic, hasErrors, nowhere } from '../diagnostics/catalog.ts';
import type { Expression } from '../language/expression/ast.ts';
import type { Read, Uses } from '../language/expression/checked.ts';
import { type Formula, createCondition, createFormula } from '../language/expression/formula.ts';
import { type Scope, createScope } from '../language/expression/scope.ts';
import { childListsOf } from '../language/expression/shapes.ts';
import { fieldTypeOf } from '../language/field-types/index.ts';
import type { Host } from '../language/functions/function.ts';
import { LazyMap } from './lazy-map.ts';
import { type CompiledTable, compileTable, prepareTable } from './mapping/table.ts';
import { findRuleKind } from './rule-kinds/index.ts';
import type { CompiledOutcome, Limit } from './rule-kinds/rule-kind.ts';
import type { MappingTable, Moment, RecordType, Rule, Rulebook } from '../document/document.ts';
import { lookThrough, wellFormed } from '../document/well-formed.ts';
import { entryPointsOf } from './entry-points.ts';
import { compileNotices } from './notices.ts';
import { orderRules } from './order.ts';
import { readersOf } from './readers.ts';
import { type SlotIndex, slotAt } from '../document/slots.ts';

const noHost: Host = {};

/**
 * Never throws, whatever the document is: what is wrong with it is told in `problems` and `broken`. A record type or a
 * table is compiled when it is first asked for.
 */
export function compileProgram(document: Rulebook, host: Host = noHost): Program {
  return new LazyProgram(document, host);
}

/** As `compileProgram`; record types of which nothing changed are those of `previous`, whatever else did. */
export function recompileProgram(previous: Program, document: Rulebook): Program {
  return new LazyProgram(document, previous.host, previous);
}

class LazyProgram implements Program {
  readonly rulebook: Rulebook;
  readonly problems: Program['problems'];
  readonly types: LazyMap<string, RecordType, TypeProgram>;
  readonly tables: LazyMap<string, MappingTable, CompiledTable>;
  readonly readers: Program['readers'];
  private knownBroken: Program['broken'] | undefined;

  constructor(
    document: Rulebook,
    readonly host: Host,
    previous?: Program,
  ) {
    const { rulebook, problems } = wellFormed(document);
    this.rulebook = rulebook;
    this.problems = problems;
    // A program does not keep the one before it: what goes on as it was is looked up now.
    const unchanged = previous ? unchangedTypes(previous, rulebook) : new Map<RecordType, TypeProgram>();
    this.types = new LazyMap(byKey(rulebook.recordTypes), (t) => unchanged.get(t) ?? compileType(t, rulebook));
    this.tables = new LazyMap(byKey(rulebook.tables ?? []), (t) => compileTable(t, rulebook));
    this.readers = readersOf(rulebook.recordTypes, this.types);
  }

  get broken(): Program['broken'] {
    return (this.knownBroken ??= [...this.types.values()].flatMap((t) =>
      t.rules.filter((r) => hasErrors(r.diagnostics)),
    ));
  }
}

const byKey = <T extends { readonly key: string }>(parts: readonly T[]): ReadonlyMap<string, T> =>
  new Map(parts.map((p) => [p.key, p]));

/**
 * As `compileProgram`, in steps of a millisecond or so, for who has to do other things in between. What comes out is
 * ready to run: nothing large is left for the first write. Never throws, whatever the document is.
 */
export function* compileInSteps(document: Rulebook, host: Host = noHost): Generator<void, Program> {
  yield* preparations(document);
  const program = new LazyProgram(document, host);
  for (const _ of program.types) yield;
  for (const _ of program.tables) yield;
  for (const _ of program.readers) yield;
  // Asked for once: known from now on.
  void program.broken;
  return program;
}

function* preparations(document: Rulebook): Generator<void, void> {
  yield* lookThrough(document);
  const { rulebook } = wellFormed(document);
  for (const type of rulebook.recordTypes) {
    yield;
    const scope = scopeOf(type, rulebook);
    const slotOf = slotsOf(type);
    for (const rule of rulebook.rules) {
      if (rule.recordType !== type.key) continue;
      yield;
      compileRule(rule, type, scope, slotOf);
    }
  }
  for (const table of rulebook.tables ?? []) yield* prepareTable(table, rulebook);
}

/** The record types whose fields, names and rules are those of `previous`, as far as it has compiled them. */
function unchangedTypes(previous: Program, rulebook: Rulebook): ReadonlyMap<RecordType, TypeProgram> {
  const before = previous.rulebook;
  const otherRules = typesWithOtherRules(before.rules, rulebook.rules);
  const sameNames = (['recordTypes', 'tables', 'formerNames', 'userRecordType'] as const).every(
    (name) => before[name] === rulebook[name],
  );
  return new Map(
    rulebook.recordTypes.flatMap((type) => {
      if (otherRules.has(type.key)) return [];
      const known = previous instanceof LazyProgram ? previous.types.peek(type.key) : previous.types.get(type.key);
      if (known?.recordType !== type || !(sameNames || known.scope === scopeOf(type, rulebook))) return [];
      return [[type, known] as const];
    }),
  );
}

/** Keys of the record types that have not the same rules in the same order. */
function typesWithOtherRules(before: readonly Rule[], now: readonly Rule[]): ReadonlySet<string> {
  if (before === now) return new Set();
  const [old, fresh] = [byType(before), byType(now)];
  const isSame = (a: readonly Rule[] = [], b: readonly Rule[] = []): boolean =>
    a.length === b.length && a.every((rule, i) => rule === b[i]);
  return new Set([...old.keys(), ...fresh.keys()].filter((key) => !isSame(old.get(key), fresh.get(key))));
}

function byType(rules: readonly Rule[]): ReadonlyMap<string, readonly Rule[]> {
  const found = new Map<string, Rule[]>();
  for (const rule of rules) {
    const own = found.get(rule.recordType) ?? [];
    own.push(rule);
    found.set(rule.recordType, own);
  }
  return found;
}

const slotsOf = (type: RecordType): ReadonlyMap<string, SlotIndex> =>
  new Map(type.fields.map((f, i) => [f.key, slotAt(i)]));

function compileType(recordType: RecordType, rulebook: Rulebook): TypeProgram {
  const scope = scopeOf(recordType, rulebook);
  const slots = recordType.fields.map((field) => ({ field, type: fieldTypeOf(field) }));
  const slotOf = slotsOf(recordType);
  const own = rulebook.rules.filter((r) => r.recordType === recordType.key);
  const rules = orderRules(own.map((rule) => compileRule(rule, recordType, scope, slotOf)));
  const wokenBy: RunIndex[][] = slots.map(() => []);
  const wokenByRelated = new Map<string, RunIndex[]>();
  const usable = rules.filter((r) => r.compiles);
  for (const rule of usable) {
    for (const slot of rule.wakes) wokenBy[slot]!.push(rule.runIndex);
    for (const key of new Set(rule.related.map((r) => pathKey(r.route, r.field))))
      wokenByRelated.set(key, [...(wokenByRelated.get(key) ?? []), rule.runIndex]);
  }
  const locked = new Map<SlotIndex, CompiledRule>();
  for (const r of usable) if (r.rule.on && r.rule.winner === 'locked') for (const slot of r.writes) locked.set(slot, r);
  return {
    recordType,
    scope,
    slots,
    slotOf,
    entryPoints: new Map(entryPointsOf(recordType).map((e) => [e.key, e])),
    childLists: new Map(childListsOf(recordType.key, rulebook).map((c) => [c.name, c])),
    rules,
    wokenBy,
    wokenByRelated,
    everyWrite: usable.filter((r) => r.rule.repeat === 'every' || r.confines.length > 0),
    onNewRecord: rules.filter((r) => r.onNewRecord),
    limitsOn: limitsOf(usable),
    demanding: rules.filter((r) => r.fieldConstraints && r.rule.on),
    locked,
    admitted: admissions(rules),
    starting: {
      stored: slots.map((s) => s.type.starting),
      values: slots.map((s) => s.type.read(s.type.starting, s.field)),
      previous: slots.map((s) => s.type.read(null, s.field)),
    },
    required: recordType.fields.flatMap((f, i) => (f.required ? [slotAt(i)] : [])),
    readsPrevious: rules.some((r) => r.reads.previous.length > 0 || r.rule.repeat === 'starts' || r.fieldConstraints),
  };
}

function limitsOf(rules: readonly CompiledRule[]): TypeProgram['limitsOn'] {
  const found = new Map<SlotIndex, { rule: CompiledRule; limit: Limit }[]>();
  for (const rule of rules)
    for (const limit of (rule.rule.on && rule.fieldConstraints?.limits) || [])
      found.set(limit.field, [...(found.get(limit.field) ?? []), { rule, limit }]);
  return found;
}

/** Worked out once for each moment and entry point that comes up. */
function admissions(rules: readonly CompiledRule[]): TypeProgram['admitted'] {
  const known = new Map<Moment, Map<string, readonly boolean[]>>();
  return (moment, entryPoint) => {
    const byEntry = known.get(moment) ?? new Map<string, readonly boolean[]>();
    known.set(moment, byEntry);
    let admitted = byEntry.get(entryPoint);
    if (!admitted) {
      admitted = rules.map(
        ({ compiles, rule }) =>
          compiles && rule.on && rule.moments.includes(moment) && rule.entryPoints.includes(entryPoint),
      );
      byEntry.set(entryPoint, admitted);
    }
    return admitted;
  };
}

/**
 * Field lists change far less often than rules, so a scope is kept with the list while all else that it names stays:
 * the fields of the other record types, and names and columns of tables (not their rows).
 */
const scopes = new WeakMap<RecordType['fields'], { readonly names: readonly unknown[]; readonly scope: Scope }>();

export function scopeOf(recordType: RecordType, rulebook: Pick<Rulebook, 'recordTypes'> & Partial<Rulebook>): Scope {
  const names = [
    recordType.key,
    rulebook.userRecordType,
    rulebook.formerNames,
    ...rulebook.recordTypes.flatMap((t) => [t.fields, t.plural]),
    ...(rulebook.tables ?? []).flatMap((t) => [t.key, t.name, t.keys, t.outputs]),
  ];
  const known = scopes.get(recordType.fields);
  if (known?.names.length === names.length && known.names.every((n, i) => n === names[i])) return known.scope;
  const scope = createScope(recordType, rulebook);
  scopes.set(recordType.fields, { names, scope });
  return scope;
}

type Unordered = Omit<CompiledRule, 'runIndex' | 'circle'>;

/** Rules are immutable: one that did not change is not compiled again while its fields stay. */
const compiledRules = new WeakMap<Rule, { scope: Scope; compiled: Unordered }>();

function compileRule(
  rule: Rule,
  recordType: RecordType,
  scope: Scope,
  slotOf: ReadonlyMap<string, SlotIndex>,
): Unordered {
  const known = compiledRules.get(rule);
  if (known?.scope === scope) return known.compiled;
  const compiled = compileRuleAnew(rule, recordType, scope, slotOf);
  compiledRules.set(rule, { scope, compiled });
  return compiled;
}

const nothing: CompiledOutcome = {
  formulas: [],
  options: [],
  columns: [],
  diagnostics: [],
  reads: [],
  writes: [],
  related: [],
  tables: new Set(),
  clock: false,
  user: false,
  change: false,
};

function compileRuleAnew(
  rule: Rule,
  recordType: RecordType,
  scope: Scope,
  slotOf: ReadonlyMap<string, SlotIndex>,
): Unordered {
  const kind = findRuleKind(rule.kind);
  const diagnostics: Diagnostic[] = [...checkFrame(rule, recordType)];
  if (!kind) diagnostics.push(diagnostic('rule.no-kind', nowhere, { kind: rule.kind }, '/kind'));
  const outcome = kind?.compile(rule.outcome, recordType, scope) ?? nothing;
  const condition = rule.condition?.trim() ? createCondition(rule.condition, scope) : undefined;
  const notices = compileNotices(rule.notify ?? [], scope);
  // A rule that notifies need not write.
  const ofOutcome = outcome.diagnostics.filter((d) => d.code !== 'outcome.empty' || notices.notices.length === 0);
  diagnostics.push(
    ...ofOutcome,
    ...(condition?.diagnostics ?? []).map((d) => ({ ...d, path: '/condition' })),
    ...notices.diagnostics,
  );

  const uses: (Uses & { readonly reads: readonly Read[] })[] = [
    outcome,
    ...(condition ? [condition] : []),
    ...notices.formulas.map((n) => n.formula),
  ];
  const deciding = uses.slice(0, condition ? 2 : 1);
  const telling = uses.slice(deciding.length);
  const allReads = deciding.flatMap((u) => u.reads);
  const reads = { present: slotsRead(allReads, false), previous: slotsRead(allReads, true) };
  const writes = outcome.writes.flatMap((key) => slotOf.get(key) ?? []);
  const wakes = rule.wakesOn?.flatMap((key) => slotOf.get(key) ?? []) ?? [
    ...new Set([...reads.present, ...reads.previous]),
  ];
  const eventBecause = whyEvent(rule, reads, deciding);
  const base: Unordered = {
    rule,
    placed: {
      formulas: [
        ...(condition ? [{ path: '/condition', at: 0, formula: condition }] : []),
        ...outcome.formulas,
        ...notices.formulas,
      ],
      options: outcome.options,
      columns: outcome.columns,
    },
    structure: kind?.structureOf?.(rule.outcome) ?? {},
    author: { by: 'rule', rule: rule.key },
    kind,
    diagnostics,
    reads,
    related: deciding.flatMap((u) => u.related),
    tables: new Set(uses.flatMap((u) => [...u.tables])),
    told: {
      present: slotsRead(
        telling.flatMap((u) => u.reads),
        false,
      ),
      related: telling.flatMap((u) => u.related),
    },
    wakes,
    writes,
    confines: [],
    asleep: {
      rule: rule.key,
      verdict: 'asleep',
      wokenBy: wakes.map((s) => recordType.fields[s]!.name),
      read: [],
      outcomes: [],
    },
    onNewRecord: eventBecause === undefined || (wakes.length === 0 && rule.wakesOn === undefined),
    notices: notices.notices,
    conditionParts: partsOf(condition, scope),
    standing: eventBecause === undefined,
    compiles: false,
    ...(eventBecause === undefined ? {} : { eventBecause }),
    ...(condition ? { conditionFormula: condition } : {}),
  };
  if (hasErrors(diagnostics)) return base;
  const { steps, demands } = outcome;
  return {
    ...base,
    compiles: true,
    ...(steps ? { steps } : {}),
    ...(demands
      ? {
          fieldConstraints: demands,
          confines: demands.limits.flatMap((l) => (l.otherwise === 'stop' ? [] : [l.field])),
        }
      : {}),
    ...(condition?.evaluate ? { condition: condition.evaluate } : {}),
  };
}

/** Compiled when they are first asked for: only traces and coverage need them. */
function partsOf(condition: Formula | undefined, scope: Scope): () => readonly ConditionPart[] {
  let parts: readonly ConditionPart[] | undefined;
  return () => (parts ??= condition?.expression ? compileParts(condition.expression, condition.text, scope) : []);
}

function compileParts(condition: Expression, text: string, scope: Scope): readonly ConditionPart[] {
  const leaves = leavesOf(condition);
  if (leaves.length < 2) return [];
  return leaves.flatMap((e) => {
    const part = text.slice(e.range.from, e.range.to);
    const { evaluate } = createFormula(part, scope);
    return evaluate ? [{ text: part, evaluate }] : [];
  });
}

const leavesOf = (e: Expression): readonly Expression[] => {
  if (e.kind === 'and' || e.kind === 'or') return [...leavesOf(e.left), ...leavesOf(e.right)];
  return e.kind === 'call' && e.name === 'not' && e.arguments.length === 1 ? leavesOf(e.arguments[0]!) : [e];
};

function checkFrame(rule: Rule, recordType: RecordType): Diagnostic[] {
  const found: Diagnostic[] = [];
  if (rule.name.trim() === '') found.push(diagnostic('rule.no-name', nowhere, {}, '/name'));
  if (rule.moments.length === 0 || rule.entryPoints.length === 0)
    found.push(diagnostic('rule.never-acts', nowhere, {}, '/moments'));
  const known = new Set(entryPointsOf(recordType).map((e) => e.key));
  for (const entry of rule.entryPoints)
    if (!known.has(entry)) found.push(diagnostic('rule.no-form', nowhere, { entry }, '/entryPoints'));
  for (const [i, key] of (rule.wakesOn ?? []).entries())
    if (!recordType.fields.some((f) => f.key === key))
      found.push(diagnostic('rule.no-wake', nowhere, { field: key }, `/wakesOn/${i}`));
  return found;
}

function slotsRead(reads: readonly Read[], previous: boolean): SlotIndex[] {
  return [...new Set(reads.filter((r) => r.previous === previous).map((r) => r.field.slot))].sort((a, b) => a - b);
}

function whyEvent(rule: Rule, reads: RuleReads, uses: readonly Uses[]): string | undefined {
  if (uses.some((u) => u.clock)) return 'it asks for the clock';
  if (uses.some((u) => u.user)) return 'it asks who writes';
  if (uses.some((u) => u.change)) return 'it asks what changed';
  if (reads.previous.length > 0) return 'it reads a previous value';
  if (rule.wakesOn) return 'what wakes it was chosen by hand';
  if (rule.repeat === 'starts') return 'it acts only when its condition starts to hold';
  if (rule.notify && rule.notify.length > 0) return 'it notifies';
  return undefined;
}

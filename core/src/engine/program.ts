/** A rulebook compiled: rules with their reads, writes and closures, in the order in which they run. */
import { diagnostic, hasErrors, nowhere, type Diagnostic } from '../diagnostics/catalog.ts';
import type { Compiled } from '../expression/compile.ts';
import { createCondition } from '../expression/formula.ts';
import type { Read } from '../expression/check.ts';
import { createScope, type Scope } from '../expression/scope.ts';
import type { FieldType } from '../field-types/field-type.ts';
import { fieldTypeOf } from '../field-types/index.ts';
import { findRuleKind } from '../rule-kinds/index.ts';
import type { CompiledOutcome, RuleKind } from '../rule-kinds/rule-kind.ts';
import type { Field, RecordType, Rule, Rulebook } from '../rulebook/document.ts';
import { entryPointsOf } from './entry-points.ts';
import { orderRules } from './order.ts';

export interface RuleReads {
  /** Slots read as they stand. */
  readonly present: readonly number[];
  /** Slots read as they were stored before the write. */
  readonly previous: readonly number[];
}

export interface CompiledRule {
  readonly rule: Rule;
  readonly kind: RuleKind | undefined;
  readonly diagnostics: readonly Diagnostic[];
  readonly reads: RuleReads;
  /** Slots whose change makes the rule look at the record. */
  readonly wakes: readonly number[];
  /** Slots written. */
  readonly writes: readonly number[];
  /** Its result follows from present values alone; otherwise `eventBecause` says why not. */
  readonly standing: boolean;
  readonly eventBecause?: string;
  readonly condition?: Compiled;
  readonly steps?: NonNullable<CompiledOutcome['steps']>;
  readonly demands?: NonNullable<CompiledOutcome['demands']>;
  /** It compiles: it takes part in the run. */
  readonly sound: boolean;
  /** Position in the order of the record type. */
  readonly at: number;
  /** Rules that depend on each other in a ring share a number; -1 for none. */
  readonly circle: number;
}

export interface Slot {
  readonly field: Field;
  readonly type: FieldType;
}

export interface TypeProgram {
  readonly recordType: RecordType;
  readonly scope: Scope;
  readonly slots: readonly Slot[];
  readonly slotOf: ReadonlyMap<string, number>;
  /** In running order. */
  readonly rules: readonly CompiledRule[];
  /** For each slot the places in the order of the rules that it wakes. */
  readonly wokenBy: readonly (readonly number[])[];
  /** Rules that act on every write, and those that ask something of the settled record: few, and looked at each time. */
  readonly everyWrite: readonly CompiledRule[];
  readonly demanding: readonly CompiledRule[];
  /** Slots that only rules write: the target of a rule that is on, compiles and says *locked*. */
  readonly locked: ReadonlyMap<number, CompiledRule>;
}

export interface Program {
  readonly rulebook: Rulebook;
  readonly types: ReadonlyMap<string, TypeProgram>;
  /** Rules that do not compile are left out of the run and named here. */
  readonly broken: readonly CompiledRule[];
}

export function compileProgram(rulebook: Rulebook): Program {
  const types = new Map(rulebook.recordTypes.map((t) => [t.key, compileType(t, rulebook)]));
  const broken = [...types.values()].flatMap((t) => t.rules.filter((r) => hasErrors(r.diagnostics)));
  return { rulebook, types, broken };
}

function compileType(recordType: RecordType, rulebook: Rulebook): TypeProgram {
  const scope = scopeOf(recordType);
  const slots = recordType.fields.map((field) => ({ field, type: fieldTypeOf(field) }));
  const slotOf = new Map(recordType.fields.map((f, i) => [f.key, i]));
  const own = rulebook.rules.filter((r) => r.recordType === recordType.key);
  const rules = orderRules(own.map((rule) => compileRule(rule, recordType, scope, slotOf)));
  const wokenBy: number[][] = slots.map(() => []);
  for (const rule of rules) if (rule.sound) for (const slot of rule.wakes) wokenBy[slot]!.push(rule.at);
  const locked = new Map<number, CompiledRule>();
  for (const r of rules)
    if (r.sound && r.rule.on && r.rule.winner === 'locked') for (const slot of r.writes) locked.set(slot, r);
  const everyWrite = rules.filter((r) => r.sound && r.rule.repeat === 'every');
  const demanding = rules.filter((r) => r.demands && r.rule.on);
  return { recordType, scope, slots, slotOf, rules, wokenBy, everyWrite, demanding, locked };
}

/** Field lists change far less often than rules; a scope costs a parser, so it is kept with the list. */
const scopes = new WeakMap<RecordType['fields'], Scope>();

export function scopeOf(recordType: RecordType): Scope {
  let scope = scopes.get(recordType.fields);
  if (!scope) scopes.set(recordType.fields, (scope = createScope(recordType)));
  return scope;
}

type Unordered = Omit<CompiledRule, 'at' | 'circle'>;

/** Rules are immutable: one that did not change is not compiled again while its fields stay. */
const compiledRules = new WeakMap<Rule, { scope: Scope; compiled: Unordered }>();

function compileRule(rule: Rule, recordType: RecordType, scope: Scope, slotOf: ReadonlyMap<string, number>): Unordered {
  const known = compiledRules.get(rule);
  if (known?.scope === scope) return known.compiled;
  const compiled = compileRuleAnew(rule, recordType, scope, slotOf);
  compiledRules.set(rule, { scope, compiled });
  return compiled;
}

function compileRuleAnew(
  rule: Rule,
  recordType: RecordType,
  scope: Scope,
  slotOf: ReadonlyMap<string, number>,
): Unordered {
  const kind = findRuleKind(rule.kind);
  const diagnostics: Diagnostic[] = [...checkFrame(rule, recordType)];
  if (!kind) diagnostics.push(diagnostic('rule.no-kind', nowhere, { kind: rule.kind }, '/kind'));
  const outcome: CompiledOutcome = kind?.compile(rule.outcome, recordType, scope) ?? {
    diagnostics: [],
    reads: [],
    writes: [],
  };
  const condition = rule.condition?.trim() ? createCondition(rule.condition, scope) : undefined;
  diagnostics.push(
    ...outcome.diagnostics,
    ...(condition?.diagnostics ?? []).map((d) => ({ ...d, path: '/condition' })),
  );

  const allReads = [...outcome.reads, ...(condition?.reads ?? [])];
  const reads = { present: slotsRead(allReads, false), previous: slotsRead(allReads, true) };
  const writes = outcome.writes.flatMap((key) => slotOf.get(key) ?? []);
  const narrowed = rule.wakesOn?.flatMap((key) => slotOf.get(key) ?? []);
  const found = [...new Set([...reads.present, ...reads.previous])].filter((s) => !writes.includes(s));
  const eventBecause = whyEvent(rule, reads, outcome.clock === true || condition?.clock === true);
  const base: Unordered = {
    rule,
    kind,
    diagnostics,
    reads,
    wakes: narrowed ?? found,
    writes,
    standing: eventBecause === undefined,
    sound: false,
    ...(eventBecause === undefined ? {} : { eventBecause }),
  };
  if (hasErrors(diagnostics)) return base;
  const { steps, demands } = outcome;
  return {
    ...base,
    sound: true,
    ...(steps ? { steps } : {}),
    ...(demands ? { demands } : {}),
    ...(condition?.evaluate ? { condition: condition.evaluate } : {}),
  };
}

function checkFrame(rule: Rule, recordType: RecordType): Diagnostic[] {
  const found: Diagnostic[] = [];
  if (rule.name.trim() === '') found.push(diagnostic('rule.no-name', nowhere, {}, '/name'));
  if (rule.moments.length === 0 || rule.entryPoints.length === 0)
    found.push(diagnostic('rule.never-acts', nowhere, {}, '/moments'));
  const known = new Set(entryPointsOf(recordType).map((e) => e.key));
  for (const entry of rule.entryPoints)
    if (!known.has(entry)) found.push(diagnostic('rule.no-form', nowhere, { entry }, '/entryPoints'));
  return found;
}

function slotsRead(reads: readonly Read[], previous: boolean): number[] {
  return [...new Set(reads.filter((r) => r.previous === previous).map((r) => r.field.slot))].sort((a, b) => a - b);
}

function whyEvent(rule: Rule, reads: RuleReads, clock: boolean): string | undefined {
  if (clock) return 'it asks for the clock';
  if (reads.previous.length > 0) return 'it reads a previous value';
  if (rule.wakesOn) return 'what wakes it was chosen by hand';
  if (rule.repeat === 'starts') return 'it acts only when its condition starts to hold';
  return undefined;
}

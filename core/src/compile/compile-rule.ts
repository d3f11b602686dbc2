/** One rule compiled: what it reads and writes, when it acts, and what runs. */
import type { CompiledRule, ConditionPart, RuleReads } from './compiled.ts';
import { type Diagnostic, diagnostic, hasErrors, nowhere } from '../diagnostics/catalog.ts';
import type { RecordType, Rule } from '../document/document.ts';
import type { SlotIndex } from '../document/slots.ts';
import type { Expression } from '../language/expression/ast.ts';
import type { Read, Uses } from '../language/expression/checked.ts';
import type { Writing } from '../language/types/writing.ts';
import { type Formula, createCondition, createFormula } from '../language/expression/formula.ts';
import type { Scope } from '../language/expression/scope.ts';
import { entryPointsOf } from './entry-points.ts';
import { compileNotices } from './notices.ts';
import { findRuleKind } from './rule-kinds/index.ts';
import type { CompiledOutcome } from './rule-kinds/rule-kind.ts';

/** A rule that has not yet its place among the others. */
export type UnorderedRule = Omit<CompiledRule, 'runIndex' | 'circle'>;

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

/** Never throws: what is wrong with a rule is told in its diagnostics. */
export function compileRule(
  rule: Rule,
  recordType: RecordType,
  scope: Scope,
  slotOf: ReadonlyMap<string, SlotIndex>,
  writing: Writing,
): UnorderedRule {
  const kind = findRuleKind(rule.kind);
  const diagnostics: Diagnostic[] = [...checkFrame(rule, recordType)];
  if (!kind) diagnostics.push(diagnostic('rule.no-kind', nowhere, { kind: rule.kind }, '/kind'));
  const outcome = kind?.compile(rule.outcome, recordType, scope, writing) ?? nothing;
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
  const slotsOf = (keys: readonly string[]): readonly SlotIndex[] => keys.flatMap((key) => slotOf.get(key) ?? []);
  const wakes = rule.wakesOn ? slotsOf(rule.wakesOn) : [...new Set([...reads.present, ...reads.previous])];
  const eventBecause = whyEvent(rule, reads, deciding);
  const base: UnorderedRule = {
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
    writes: slotsOf(outcome.writes),
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

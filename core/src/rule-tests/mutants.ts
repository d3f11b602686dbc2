/** Small faults to plant in rules and tables, one at a time, each in words. */
import type { CompiledRule, Program, TypeProgram } from '../compile/compiled.ts';
import { outcomeMutants } from '../compile/rule-kinds/mutants.ts';
import type { TextRange } from '../diagnostics/catalog.ts';
import { walk, type Expression } from '../language/expression/ast.ts';
import { createFormula } from '../language/expression/formula.ts';
import { canonicalJson } from '../document/canonical.ts';
import { applyPatch } from '../document/patch.ts';
import { winners, type MappingTable, type Rule, type Rulebook } from '../document/document.ts';
import type { PartRef } from '../document/parts.ts';
import { numberToText } from '../values/number.ts';
import { sampled } from './sampled.ts';
import { stepOf } from './values.ts';

/** Kinds of fault that are told together where several go unnoticed. */
export const mutantKinds = {
  condition: 'when the condition holds',
  comparison: 'where a comparison turns',
  boundary: 'where a boundary stands',
  logic: 'how conditions are joined',
  entry: 'which entry points act',
  wake: 'what wakes the rule',
  winner: 'who wins over a value set by hand',
  outcome: 'what comes out',
  row: 'what a row says',
} as const;
export type MutantKind = keyof typeof mutantKinds;

export interface Mutant {
  /** The rule or table that it is planted in. */
  readonly part: PartRef;
  readonly kind: MutantKind;
  readonly text: string;
  /** Key of the entry point that it takes away. */
  readonly entryPoint?: string;
  /** The part of a formula that is otherwise: before and with the fault. */
  readonly changed?: {
    readonly from: string;
    readonly to: string;
    /** Only whether it is true matters: false and unknown come to the same. */
    readonly truthOnly: boolean;
  };
  /** The rulebook with the fault in it. */
  readonly rulebook: Rulebook;
}

/** Rows of a table beyond which its faults are sampled. */
const mostRows = 200;

/** Every fault of a rule, by small changes of its text, its outcome and when it acts. */
export function mutantsOfRule(r: CompiledRule, type: TypeProgram, rulebook: Rulebook): Mutant[] {
  const found: Mutant[] = [];
  if (!r.compiles || !r.rule.on) return found;
  const at = rulebook.rules.indexOf(r.rule);
  const plant: Plant = (kind, text, rule, more = {}) => {
    const rules = rulebook.rules.with(at, rule);
    found.push({ ...more, part: { kind: 'rule', key: r.rule.key }, kind, text, rulebook: { ...rulebook, rules } });
  };
  inFrame(r, type, plant);
  const outcomes = r.kind
    ? outcomeMutants(r.kind.key)(r.rule.outcome, type.recordType, rulebook.recordTypes, type.writing)
    : [];
  for (const { text, outcome } of outcomes) plant('outcome', text, { ...r.rule, outcome });
  const texts = [
    ...(r.rule.condition?.trim() ? [{ path: '/condition', text: r.rule.condition }] : []),
    ...(r.kind?.texts(r.rule.outcome) ?? [])
      .filter((t) => !t.template)
      .map((t) => ({ path: `/outcome${t.path}`, text: t.text })),
  ];
  const step = (name: string): number => {
    const field = type.recordType.fields.find((f) => f.name === name);
    return field ? stepOf(field) : 1;
  };
  for (const { path, text } of texts) {
    const { expression } = createFormula(text, type.scope);
    if (!expression) continue;
    for (const fault of formulaMutants(expression, text, path === '/condition', step))
      plant(fault.kind, fault.text, applyPatch(r.rule, [{ op: 'replace', path, value: fault.formula }]).value, {
        changed: fault.changed,
      });
  }
  return found;
}

type Plant = (kind: MutantKind, text: string, rule: Rule, more?: Pick<Mutant, 'entryPoint' | 'changed'>) => void;

function inFrame({ rule, writes, structure }: CompiledRule, type: TypeProgram, plant: Plant): void {
  if (rule.condition?.trim()) plant('condition', 'the condition dropped', { ...rule, condition: '' });
  for (const entry of rule.entryPoints) {
    const name = type.entryPoints.get(entry)?.name ?? entry;
    const entryPoints = rule.entryPoints.filter((e) => e !== entry);
    plant('entry', `no longer through ${name}`, { ...rule, entryPoints }, { entryPoint: entry });
  }
  for (const wake of rule.wakesOn ?? [])
    plant('wake', `not woken by ${type.recordType.fields.find((f) => f.key === wake)?.name ?? wake}`, {
      ...rule,
      wakesOn: rule.wakesOn!.filter((w) => w !== wake),
    });
  // Who writes nothing wins over nobody.
  if (writes.length === 0 && !structure.sends) return;
  const other = winners.find((w) => w.key !== rule.winner)!;
  plant('winner', `the winner changed to ${other.name}`, { ...rule, winner: other.key });
}

/** Relational operator replacement: every other operator, and the comparison made always true or never (common practice). */
const operators = ['<', '<=', '>', '>=', '=', '!='] as const;

interface FormulaMutant {
  readonly kind: MutantKind;
  readonly text: string;
  readonly formula: string;
  readonly changed: NonNullable<Mutant['changed']>;
}

function formulaMutants(
  expression: Expression,
  text: string,
  isCondition: boolean,
  step: (field: string) => number,
): FormulaMutant[] {
  const found: FormulaMutant[] = [];
  const decisions = decisionsIn(expression, isCondition);
  /** A text of `of` exchanged: in the formula as a whole, and in `of` alone. */
  const put = (kind: MutantKind, of: Expression, told: string, range: TextRange, by: string): void => {
    const formula = text.slice(0, range.from) + by + text.slice(range.to);
    const to = text.slice(of.range.from, range.from) + by + text.slice(range.to, of.range.to);
    found.push({ kind, text: told, formula, changed: { from: part(of), to, truthOnly: decisions.has(of) } });
  };
  const part = (e: Expression): string => text.slice(e.range.from, e.range.to);
  walk(expression, (e) => {
    if (e.kind === 'comparison') {
      for (const by of operators)
        if (by !== e.operator) put('comparison', e, `${part(e)} with ${by}`, e.operatorRange, by);
      for (const by of ['true', 'false']) put('comparison', e, `${part(e)} made ${by}`, e.range, by);
      for (const [side, other] of [
        [e.right, e.left],
        [e.left, e.right],
      ] as const) {
        if (side.kind !== 'literal' || typeof side.value !== 'number') continue;
        const by = step(other.kind === 'name' ? other.name : '');
        for (const sign of [-1, 1]) {
          const moved = numberToText(Number((side.value + sign * by).toPrecision(15)));
          put('boundary', e, `${part(side)} in ${part(e)} moved to ${moved}`, side.range, moved);
        }
      }
    }
    if (e.kind === 'and' || e.kind === 'or') {
      const between = { from: e.left.range.to, to: e.right.range.from };
      const other = e.kind === 'and' ? 'or' : 'and';
      const joined = text.slice(between.from, between.to).replace(new RegExp(`\\b${e.kind}\\b`), other);
      put('logic', e, `${e.kind} in ${part(e)} made ${other}`, between, joined);
    }
  });
  return found;
}

/** Expressions of which only matters whether they are true: conditions, those of `if` and of filters, and what they join. */
function decisionsIn(expression: Expression, isCondition: boolean): ReadonlySet<Expression> {
  const found = new Set<Expression>();
  const decides = (e: Expression): void => {
    found.add(e);
    if (e.kind !== 'and' && e.kind !== 'or') return;
    decides(e.left);
    decides(e.right);
  };
  if (isCondition) decides(expression);
  walk(expression, (e) => {
    if (e.kind === 'if') decides(e.condition);
    if (e.kind === 'filter') decides(e.condition);
  });
  return found;
}

/** A row dropped, the values of two rows exchanged. */
export function mutantsOfTable(table: MappingTable, rulebook: Rulebook, seed: number): Mutant[] {
  const found: Mutant[] = [];
  const at = (rulebook.tables ?? []).findIndex((t) => t.key === table.key);
  const plant = (text: string, rows: MappingTable['rows']): void => {
    const tables = rulebook.tables!.with(at, { ...table, rows });
    found.push({ part: { kind: 'table', key: table.key }, kind: 'row', text, rulebook: { ...rulebook, tables } });
  };
  const outputs = table.outputs.map((c) => c.key);
  const valuesOf = (row: MappingTable['rows'][number]): MappingTable['rows'][number] =>
    Object.fromEntries(outputs.map((k) => [k, row[k] ?? null]));
  const indexes = sampled([...table.rows.keys()], mostRows, seed);
  for (const i of indexes) {
    plant(`row ${i + 1} dropped`, table.rows.toSpliced(i, 1));
    const [row, next] = [table.rows[i]!, table.rows[i + 1]];
    if (!next || canonicalJson(valuesOf(row)) === canonicalJson(valuesOf(next))) continue;
    const rows = table.rows.with(i, { ...row, ...valuesOf(next) }).with(i + 1, { ...next, ...valuesOf(row) });
    plant(`the values of rows ${i + 1} and ${i + 2} exchanged`, rows);
  }
  return found;
}

/** Rules and tables that faults can be planted in, rules first in the order of the document. */
export function mutableParts(program: Program): readonly PartRef[] {
  const rules = [...program.types.values()].flatMap((t) => t.rules).filter((r) => r.compiles && r.rule.on);
  const used = new Set(rules.flatMap((r) => [...r.tables]));
  const order = new Map(program.rulebook.rules.map((r, i) => [r.key, i]));
  return [
    ...rules
      .map((r) => r.rule.key)
      .sort((a, b) => order.get(a)! - order.get(b)!)
      .map((key) => ({ kind: 'rule', key }) as const),
    ...[...program.tables.keys()].filter((key) => used.has(key)).map((key) => ({ kind: 'table', key }) as const),
  ];
}

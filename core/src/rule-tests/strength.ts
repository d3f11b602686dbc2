/** How many small planted faults the tests catch: one fault at a time, each in words. */
import { compileProgram } from '../compile/program.ts';
import { type Program } from '../compile/compiled.ts';
import type { SettleOptions } from '../settle/settlement.ts';
import { walk, type Expression } from '../language/expression/ast.ts';
import { createFormula } from '../language/expression/formula.ts';
import { canonicalJson } from '../document/canonical.ts';
import { applyPatch } from '../document/patch.ts';
import { winners, type MappingTable, type Rule, type Rulebook, type RuleTest } from '../document/document.ts';
import { numberToText } from '../values/number.ts';
import { runTest, settleTest } from './run.ts';
import { suggestTests } from './suggest.ts';
import { stepOf } from './values.ts';

export interface Survivor {
  /** The rule or table. */
  readonly part: string;
  readonly text: string;
  /** A suggested test that would catch it. */
  readonly test: RuleTest;
}

export interface Strength {
  readonly caught: number;
  readonly planted: number;
  /** No suggested test can tell these from the rules as they are: outside the score. */
  readonly undecided: number;
  readonly survivors: readonly Survivor[];
  /** Faults that there are, of which a sample was planted. */
  readonly possible: number;
}

interface Planted {
  readonly part: string;
  readonly text: string;
  readonly rulebook: Rulebook;
}

export interface StrengthOptions extends SettleOptions {
  /** Faults that are planted at most: beyond it a sample of them, the same for the same seed. */
  readonly most?: number;
  readonly seed?: number;
}

const usualMost = 2000;
/** Rows of a table beyond which its faults are sampled. */
const mostRows = 200;

/** Which of many, in their order: those whose number, mixed with the seed, comes first (the finalizer of MurmurHash3). */
export function sampled<T>(all: readonly T[], most: number, seed: number): readonly T[] {
  if (all.length <= most) return all;
  const mixed = (n: number): number => {
    let h = (n + 1) ^ Math.imul(seed + 1, 0x9e3779b1);
    h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
    h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
    return (h ^ (h >>> 16)) >>> 0;
  };
  const ranked = all.map((_, i) => i).sort((a, b) => mixed(a) - mixed(b));
  return ranked
    .slice(0, most)
    .sort((a, b) => a - b)
    .map((i) => all[i]!);
}

export function strengthOf(
  program: Program,
  tests: readonly RuleTest[],
  { most = usualMost, seed = 0, ...options }: StrengthOptions = {},
  progress: (done: number, all: number) => void = () => undefined,
): Strength {
  const all = plantFaults(program, seed);
  const faults = sampled(all, most, seed);
  const suggested = suggestTests(program, options).map((s) => s.test);
  const before = suggested.map((t) => fingerprint(program, t, options));
  // Tests that fail already catch nothing.
  const sound = tests.filter((t) => runTest(program, t, options).failures.length === 0);
  let [caught, undecided] = [0, 0];
  const survivors: Survivor[] = [];
  faults.forEach((fault, i) => {
    progress(i, faults.length);
    const faulty = compileProgram(fault.rulebook);
    // A fault that no longer compiles would be refused before any test runs: no fault at all.
    if (faulty.broken.length > program.broken.length) undecided++;
    else if (sound.some((t) => runTest(faulty, t, options).failures.length > 0)) caught++;
    else {
      const telling = suggested.find((t, at) => fingerprint(faulty, t, options) !== before[at]);
      if (telling) survivors.push({ part: fault.part, text: fault.text, test: telling });
      else undecided++;
    }
  });
  return { caught, planted: caught + survivors.length, undecided, survivors, possible: all.length };
}

/** All that a test could look at. */
function fingerprint(program: Program, test: RuleTest, options: SettleOptions): string {
  const { data, messages, notifications, states, verdict, held } = settleTest(program, test, {
    ...options,
    trace: false,
  });
  return canonicalJson([
    data,
    held,
    messages.map((m) => [m.field, m.severity, m.text]),
    notifications,
    states,
    verdict,
  ]);
}

export function plantFaults(program: Program, seed = 0): Planted[] {
  const { rulebook } = program;
  const found: Planted[] = [];
  for (const type of program.types.values())
    for (const r of type.rules) {
      if (!r.compiles || !r.rule.on) continue;
      const plant = (text: string, rule: Rule): void => {
        const rules = rulebook.rules.map((x) => (x.key === rule.key ? rule : x));
        found.push({ part: rule.name, text, rulebook: { ...rulebook, rules } });
      };
      for (const fault of ruleFaults(r.rule)) plant(fault.text, fault.rule);
      for (const fault of r.kind?.mutants?.(r.rule.outcome, type.recordType) ?? [])
        plant(fault.text, { ...r.rule, outcome: fault.outcome });
      const texts = [
        ...(r.rule.condition?.trim() ? [{ path: '/condition', text: r.rule.condition }] : []),
        ...(r.kind?.texts(r.rule.outcome) ?? [])
          .filter((t) => !t.template)
          .map((t) => ({ path: `/outcome${t.path}`, text: t.text })),
      ];
      for (const { path, text } of texts) {
        const { expression } = createFormula(text, type.scope);
        if (!expression) continue;
        const step = (name: string): number => {
          const field = type.recordType.fields.find((f) => f.name === name);
          return field ? stepOf(field) : 1;
        };
        for (const fault of formulaFaults(expression, text, step)) {
          const { value } = applyPatch(r.rule, [{ op: 'replace', path, value: fault.formula }]);
          plant(fault.text, value);
        }
      }
    }
  for (const { table } of program.tables.values()) found.push(...tableFaults(table, rulebook, seed));
  return found;
}

function ruleFaults(rule: Rule): { text: string; rule: Rule }[] {
  const found: { text: string; rule: Rule }[] = [];
  if (rule.condition?.trim()) found.push({ text: 'the condition dropped', rule: { ...rule, condition: '' } });
  for (const entry of rule.entryPoints)
    found.push({
      text: `the entry point ${entry} removed`,
      rule: { ...rule, entryPoints: rule.entryPoints.filter((e) => e !== entry) },
    });
  for (const wake of rule.wakesOn ?? [])
    found.push({ text: `not woken by ${wake}`, rule: { ...rule, wakesOn: rule.wakesOn!.filter((w) => w !== wake) } });
  const other = winners.find((w) => w.key !== rule.winner)!;
  found.push({ text: `the winner changed to ${other.name}`, rule: { ...rule, winner: other.key } });
  return found;
}

/** Relational operator replacement: every other operator, and the comparison made always true or never (common practice). */
const operators = ['<', '<=', '>', '>=', '=', '!='] as const;

function formulaFaults(
  expression: Expression,
  text: string,
  step: (field: string) => number,
): { text: string; formula: string }[] {
  const found: { text: string; formula: string }[] = [];
  const replace = (range: { from: number; to: number }, by: string): string =>
    text.slice(0, range.from) + by + text.slice(range.to);
  const part = (e: Expression): string => text.slice(e.range.from, e.range.to);
  walk(expression, (e) => {
    if (e.kind === 'comparison') {
      for (const by of operators)
        if (by !== e.operator) found.push({ text: `${part(e)} with ${by}`, formula: replace(e.operatorRange, by) });
      for (const by of ['true', 'false']) found.push({ text: `${part(e)} made ${by}`, formula: replace(e.range, by) });
      for (const [side, other] of [
        [e.right, e.left],
        [e.left, e.right],
      ] as const) {
        if (side.kind !== 'literal' || typeof side.value !== 'number') continue;
        const by = step(other.kind === 'name' ? other.name : '');
        for (const sign of [-1, 1]) {
          const moved = numberToText(Number((side.value + sign * by).toPrecision(15)));
          found.push({ text: `${part(side)} in ${part(e)} moved to ${moved}`, formula: replace(side.range, moved) });
        }
      }
    }
    if (e.kind === 'and' || e.kind === 'or') {
      const between = { from: e.left.range.to, to: e.right.range.from };
      const other = e.kind === 'and' ? 'or' : 'and';
      const joined = text.slice(between.from, between.to).replace(new RegExp(`\\b${e.kind}\\b`), other);
      found.push({ text: `${e.kind} in ${part(e)} made ${other}`, formula: replace(between, joined) });
    }
  });
  return found;
}

/** A row dropped, the values of two rows exchanged. */
function tableFaults(table: MappingTable, rulebook: Rulebook, seed: number): Planted[] {
  const found: Planted[] = [];
  const plant = (text: string, rows: MappingTable['rows']): void => {
    const tables = (rulebook.tables ?? []).map((t) => (t.key === table.key ? { ...table, rows } : t));
    found.push({ part: table.name, text, rulebook: { ...rulebook, tables } });
  };
  const indexes = sampled(
    table.rows.map((_, i) => i),
    mostRows,
    seed,
  );
  for (const i of indexes) {
    plant(
      `row ${i + 1} dropped`,
      table.rows.filter((_, at) => at !== i),
    );
    const [row, next] = [table.rows[i]!, table.rows[i + 1]];
    if (!next) continue;
    const outputs = table.outputs.map((c) => c.key);
    const take = (from: MappingTable['rows'][number]): Record<string, MappingTable['rows'][number][string]> =>
      Object.fromEntries(outputs.map((k) => [k, from[k] ?? null]));
    if (canonicalJson(take(row)) === canonicalJson(take(next))) continue;
    const rows = table.rows.map((r, at) =>
      at === i ? { ...r, ...take(next) } : at === i + 1 ? { ...r, ...take(row) } : r,
    );
    plant(`the values of rows ${i + 1} and ${i + 2} exchanged`, rows);
  }
  return found;
}

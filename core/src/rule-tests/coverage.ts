/** What the tests reach: rules, branches (bands, pairs, no-match paths) and condition parts; table rows apart. */
import type { Program } from '../compile/compiled.ts';
import type { TestResult } from './run.ts';

export interface Reached {
  readonly reached: number;
  readonly all: number;
}

export interface Coverage {
  readonly rules: Reached;
  readonly branches: Reached;
  /** Parts of conditions that were seen true and seen not true. */
  readonly parts: Reached;
  readonly rows: Reached;
  /** What no test reaches, in words. */
  readonly missing: readonly { readonly rule: string; readonly text: string }[];
}

export function coverageOf(program: Program, results: readonly TestResult[]): Coverage {
  const entries = results.flatMap((r) => r.settlement?.trace ?? []);
  const seen = new Map<string, Set<string>>();
  const mark = (rule: string, what: string): void => {
    const own = seen.get(rule) ?? new Set<string>();
    seen.set(rule, own.add(what));
  };
  for (const { rule, verdict, outcomes, parts } of entries) {
    if (verdict === 'ran' || verdict === 'no effect' || verdict === 'stops') mark(rule, 'acts');
    for (const o of outcomes) {
      if (o.branch !== undefined) mark(rule, `branch ${o.branch}`);
      if (o.cause !== undefined) mark(rule, `branch ${o.cause}`);
    }
    for (const p of parts ?? []) mark(rule, `part ${p.text} ${p.value === true ? 'true' : 'not true'}`);
  }
  const counts = { rules: [0, 0], branches: [0, 0], parts: [0, 0], rows: [0, 0] };
  const missing: { rule: string; text: string }[] = [];
  const count = (what: keyof typeof counts, rule: string, mark_: string, text: string): void => {
    const pair = counts[what];
    pair[1]!++;
    if (seen.get(rule)?.has(mark_)) pair[0]!++;
    else missing.push({ rule, text });
  };
  for (const type of program.types.values())
    for (const r of type.rules) {
      if (!r.compiles || !r.rule.on) continue;
      const { key } = r.rule;
      count('rules', key, 'acts', 'the rule never acts');
      for (const b of r.kind?.branches?.(r.rule.outcome, program.rulebook) ?? [])
        count('branches', key, `branch ${b.at}`, b.text);
      for (const p of r.conditionParts()) {
        count('parts', key, `part ${p.text} true`, `${p.text} true`);
        count('parts', key, `part ${p.text} not true`, `${p.text} not true`);
      }
      const table = r.structure.table && program.tables.get(r.structure.table.key);
      table?.compiled.forEach((_, i) => {
        count('rows', key, `branch ${i}`, `row ${i + 1} of ${table.table.name}`);
      });
    }
  const pair = ([reached = 0, all = 0]: readonly number[]): Reached => ({ reached, all });
  return {
    rules: pair(counts.rules),
    branches: pair(counts.branches),
    parts: pair(counts.parts),
    rows: pair(counts.rows),
    missing,
  };
}

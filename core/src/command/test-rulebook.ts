/** `rigid-rule test`: the tests of a rulebook, what they cover, and how strong they are. */
import { compileProgram } from '../compile/program.ts';
import type { SettleOptions } from '../settle/settlement.ts';
import { toJUnit } from '../formats/junit.ts';
import { coverageOf, type Reached } from '../rule-tests/coverage.ts';
import { runTests } from '../rule-tests/run.ts';
import { type StrengthOptions, strengthOf } from '../rule-tests/strength.ts';
import { partId, type PartRef } from '../document/parts.ts';
import type { Rulebook } from '../document/document.ts';

export interface TestReport {
  readonly lines: readonly string[];
  readonly failed: number;
  readonly junit: string;
}

const share = ({ reached, all }: Reached): string =>
  all === 0 ? 'none' : `${reached} of ${all} (${Math.round((reached / all) * 100)} %)`;

export function testRulebook(rulebook: Rulebook, options: SettleOptions): TestReport {
  const program = compileProgram(rulebook);
  const results = runTests(program, rulebook.tests ?? [], options);
  const failing = results.filter((r) => r.failures.length > 0);
  const { acts, branch, part, entry, row } = coverageOf(program, results).totals;
  const lines = [
    ...program.broken.map((r) => `broken  ${r.rule.name}: ${r.diagnostics[0]?.message ?? ''}`),
    ...failing.flatMap((r) => [`fails   ${r.test.name}`, ...r.failures.map((f) => `          ${f}`)]),
    `${results.length - failing.length} of ${results.length} ${results.length === 1 ? 'test holds' : 'tests hold'}`,
    `reached: rules ${share(acts)}, branches ${share(branch)}, condition parts ${share(part)}, entry points ${share(entry)}, table rows ${share(row)}`,
  ];
  return { lines, failed: failing.length + program.broken.length, junit: toJUnit(rulebook.name, results) };
}

const partNames = (rulebook: Rulebook): ((part: PartRef) => string) => {
  const named = new Map<string, string>([
    ...rulebook.rules.map((r) => [`rule:${r.key}`, r.name] as const),
    ...(rulebook.tables ?? []).map((t) => [`table:${t.key}`, t.name] as const),
  ]);
  return (part) => named.get(partId(part)) ?? part.key;
};

export function strengthLines(rulebook: Rulebook, options: StrengthOptions): readonly string[] {
  const program = compileProgram(rulebook);
  const { caught, planted, same, undecided, survivors, possible } = strengthOf(program, rulebook.tests ?? [], options);
  const names = partNames(rulebook);
  const sample =
    planted + same + undecided.length < possible ? `, a sample of ${possible} by seed ${options.seed ?? 0}` : '';
  const percent = planted === 0 ? 0 : Math.round((caught / planted) * 100);
  return [
    `strength: ${caught} of ${planted} planted faults caught (${percent} %), ${same} the same as before, ${undecided.length} undecided${sample}`,
    ...survivors.map((s) => `survives ${names(s.part)}: ${s.text}; “${s.test.name}” would catch it`),
  ];
}

/** `rigid-rule test`: the tests of a rulebook, what they cover, and how strong they are. */
import { compileProgram } from '../compile/program.ts';
import type { SettleOptions } from '../settle/settlement.ts';
import { toJUnit } from '../formats/junit.ts';
import { coverageOf, type Reached } from '../rule-tests/coverage.ts';
import { runTests } from '../rule-tests/run.ts';
import { type StrengthOptions, strengthOf } from '../rule-tests/strength.ts';
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
  const coverage = coverageOf(program, results);
  const lines = [
    ...program.broken.map((r) => `broken  ${r.rule.name}: ${r.diagnostics[0]?.message ?? ''}`),
    ...failing.flatMap((r) => [`fails   ${r.test.name}`, ...r.failures.map((f) => `          ${f}`)]),
    `${results.length - failing.length} of ${results.length} tests hold`,
    `reached: rules ${share(coverage.rules)}, branches ${share(coverage.branches)}, condition parts ${share(coverage.parts)}, table rows ${share(coverage.rows)}`,
  ];
  return { lines, failed: failing.length + program.broken.length, junit: toJUnit(rulebook.name, results) };
}

export function strengthLines(rulebook: Rulebook, options: StrengthOptions): readonly string[] {
  const { caught, planted, undecided, survivors, possible } = strengthOf(
    compileProgram(rulebook),
    rulebook.tests ?? [],
    options,
  );
  const sample = planted + undecided < possible ? `, a sample of ${possible} by seed ${options.seed ?? 0}` : '';
  const percent = planted === 0 ? 0 : Math.round((caught / planted) * 100);
  return [
    `strength: ${caught} of ${planted} planted faults caught (${percent} %), ${undecided} undecided${sample}`,
    ...survivors.map((s) => `survives ${s.part}: ${s.text}; “${s.test.name}” would catch it`),
  ];
}

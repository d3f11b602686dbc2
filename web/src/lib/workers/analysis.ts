/** What a rulebook as a whole gets wrong, and what its tests say: worked out again only where it changed since the last time. */
import { findingsOf, type Finding } from '@rigid-rule/core/analysis';
import { compileProgram, recompileProgram, type Program } from '@rigid-rule/core/compile';
import type { Rulebook } from '@rigid-rule/core/document';
import type { Host } from '@rigid-rule/core/language';
import { coverageOf, reachedBy, TestRunner, type Coverage, type TestResult } from '@rigid-rule/core/rule-tests';

/** One case of a test: what it expects and does not get. */
export interface TestLineResult {
  readonly key: string;
  /** Key of the test that it is a case of. */
  readonly of: string;
  readonly name: string;
  readonly failures: readonly string[];
}

/** Plain data, as JSON has it. */
export interface Analysis {
  readonly findings: readonly Finding[];
  readonly tests: readonly TestLineResult[];
  readonly coverage: Coverage;
  /** Keys of the rules that act in some case of a test, by the test's key. */
  readonly acting: readonly (readonly [string, readonly string[]])[];
}

export class Analysing {
  private readonly runner = new TestRunner();
  private program: Program | undefined;

  /** @param host All that the rulebook asks for. */
  analyse(rulebook: Rulebook, host: Host): Analysis {
    const before = this.program;
    const sameHost = before && Object.keys(host).join() === Object.keys(before.host).join();
    const program = before
      ? recompileProgram(before, rulebook, sameHost ? before.host : host)
      : compileProgram(rulebook, host);
    this.program = program;
    const results = this.runner.run(program, program.rulebook.tests ?? []);
    return {
      findings: findingsOf(program, { reached: reachedBy(results) }),
      tests: results.map(({ test, of, failures }) => ({ key: test.key, of, name: test.name, failures })),
      coverage: coverageOf(program, results),
      acting: actingIn(results),
    };
  }
}

function actingIn(results: readonly TestResult[]): Analysis['acting'] {
  const found = new Map<string, Set<string>>();
  for (const result of results) {
    const own = found.get(result.of) ?? new Set<string>();
    found.set(result.of, own);
    for (const rule of reachedBy([result])) own.add(rule);
  }
  return [...found].map(([test, rules]) => [test, [...rules]]);
}

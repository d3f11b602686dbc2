/** Looks through a rulebook as a whole and runs its tests, apart from the page: a large one takes longer than a frame. */
import { compileProgram, findingsOf, reachedBy, runTests, type Finding, type Rulebook } from '@rigid-rule/core';
import { zoneOffset } from '@rigid-rule/zones';

export interface FindingsRequest {
  readonly id: number;
  /** As JSON: parts of a draft may be held by the interface in ways that cannot be cloned. */
  readonly rulebook: string;
}

export interface FindingsAnswer {
  readonly id: number;
  readonly findings: readonly Finding[];
  /** What each test expects and does not get, by its key. */
  readonly tests: readonly (readonly [string, readonly string[]])[];
}

addEventListener('message', ({ data: { id, rulebook } }: MessageEvent<FindingsRequest>) => {
  const program = compileProgram(JSON.parse(rulebook) as Rulebook, { zoneOffset });
  const results = runTests(program, program.rulebook.tests ?? []);
  const findings = findingsOf(program, { reached: reachedBy(results) });
  postMessage({ id, findings, tests: results.map((r) => [r.test.key, r.failures]) } satisfies FindingsAnswer);
});

/** Looks through a rulebook as a whole and runs its tests, apart from the page: a large one takes longer than a frame. */
import { findingsOf, type Finding } from '@rigid-rule/core/analysis';
import { compileProgram, recompileProgram, type Program } from '@rigid-rule/core/compile';
import type { Rulebook } from '@rigid-rule/core/document';
import { coverageOf, reachedBy, TestRunner, type Coverage, type TestResult } from '@rigid-rule/core/rule-tests';
import { hostOf } from '../host-loading.ts';
import { RulebookMirror, type RulebookChange } from './rulebook-feed.ts';

export interface FindingsRequest {
  readonly id: number;
  readonly change: RulebookChange;
}

/** One case of a test: what it expects and does not get. */
export interface TestLineResult {
  readonly key: string;
  /** Key of the test that it is a case of. */
  readonly of: string;
  readonly name: string;
  readonly failures: readonly string[];
}

export interface FindingsAnswer {
  readonly id: number;
  readonly findings: readonly Finding[];
  readonly tests: readonly TestLineResult[];
  readonly coverage: Coverage;
  /** Keys of the rules that act in some case of a test, by the test's key. */
  readonly acting: readonly (readonly [string, readonly string[]])[];
}

const mirror = new RulebookMirror();
const runner = new TestRunner();
let program: Program | undefined;
let latest = 0;
/** Milliseconds until the host is asked for again where the network was away; until then the last answer stands. */
const patience = 3000;

async function answer(id: number, rulebook: Rulebook): Promise<void> {
  latest = id;
  const host = await hostOf(rulebook).catch(() => undefined);
  if (id !== latest) return;
  if (!host) {
    setTimeout(() => id === latest && void answer(id, rulebook), patience);
    return;
  }
  const sameHost = program && Object.keys(host).join() === Object.keys(program.host).join();
  program = program
    ? recompileProgram(program, rulebook, sameHost ? program.host : host)
    : compileProgram(rulebook, host);
  const results = runner.run(program, program.rulebook.tests ?? []);
  const findings = findingsOf(program, { reached: reachedBy(results) });
  postMessage({
    id,
    findings,
    tests: results.map(({ test, of, failures }) => ({ key: test.key, of, name: test.name, failures })),
    coverage: coverageOf(program, results),
    acting: actingIn(results),
  } satisfies FindingsAnswer);
}

function actingIn(results: readonly TestResult[]): FindingsAnswer['acting'] {
  const found = new Map<string, Set<string>>();
  for (const result of results) {
    const own = found.get(result.of) ?? new Set<string>();
    found.set(result.of, own);
    for (const rule of reachedBy([result])) own.add(rule);
  }
  return [...found].map(([test, rules]) => [test, [...rules]]);
}

addEventListener('message', ({ data }: MessageEvent<FindingsRequest>) => {
  answer(data.id, mirror.take(data.change)).catch((e: unknown) => {
    // Told to the page as an error of this worker: it begins a new one. A rejection would be heard by nobody.
    setTimeout(() => {
      throw e;
    });
  });
});

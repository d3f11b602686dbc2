/** Looks through a rulebook as a whole and runs its tests, apart from the page: a large one takes longer than a frame. */
import { findingsOf, type Finding } from '@rigid-rule/core/analysis';
import { compileProgram } from '@rigid-rule/core/compile';
import type { Rulebook } from '@rigid-rule/core/document';
import { reachedBy, runTests } from '@rigid-rule/core/rule-tests';
import { hostOf } from '../host-loading.ts';

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

let latest = 0;
/** Milliseconds until the host is asked for again where the network was away; until then the last answer stands. */
const patience = 3000;

async function answer(request: FindingsRequest): Promise<void> {
  const { id, rulebook: text } = request;
  latest = id;
  const rulebook = JSON.parse(text) as Rulebook;
  const host = await hostOf(rulebook).catch(() => undefined);
  if (id !== latest) return;
  if (!host) {
    setTimeout(() => id === latest && void answer(request), patience);
    return;
  }
  const program = compileProgram(rulebook, host);
  const results = runTests(program, program.rulebook.tests ?? []);
  const findings = findingsOf(program, { reached: reachedBy(results) });
  postMessage({ id, findings, tests: results.map((r) => [r.test.key, r.failures]) } satisfies FindingsAnswer);
}

addEventListener('message', ({ data }: MessageEvent<FindingsRequest>) => void answer(data));

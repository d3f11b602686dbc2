/** What became of a write, and what a rule did in it, as tests, proofs and the command line say it. */
import { verdictTexts, type TraceVerdict } from '../compile/trace-entry.ts';
import type { Verdict } from '../settle/settlement.ts';

interface VerdictWords {
  readonly now: string;
  readonly before: string;
}

const words: Readonly<Record<Verdict, VerdictWords>> = {
  saved: { now: 'is saved', before: 'was saved' },
  stopped: { now: 'is stopped', before: 'was stopped' },
  'does not settle': { now: 'does not settle', before: 'did not settle' },
  failed: { now: 'fails', before: 'failed' },
  waiting: { now: 'waits for what it asks', before: 'waited for what it asks' },
};

/** What a test may expect to become of its write. */
export const expectedVerdicts = ['saved', 'stopped', 'does not settle', 'failed'] as const satisfies readonly Verdict[];

/** `is saved`, `does not settle`; what is expected by a test of unknown origin may be no verdict. */
export const settledText = (verdict: string): string =>
  Object.hasOwn(words, verdict) ? words[verdict as Verdict].now : `is ${verdict}`;

/** `is stopped, was saved`. */
export const otherVerdictText = (is: Verdict, was: Verdict): string => `${words[is].now}, ${words[was].before}`;

/** What a rule did in a write, in a word or two; a kept verdict may be of an earlier version. */
export const didText = (verdict: string | undefined): string =>
  verdict === undefined
    ? 'not there'
    : Object.hasOwn(verdictTexts, verdict)
      ? verdictTexts[verdict as TraceVerdict]
      : verdict;

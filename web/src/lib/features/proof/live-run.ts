/** The dry run on live records, which a job on the server works off: asked for, followed, stopped, looked into. */
import { ask } from '$lib/network.ts';
import type { ImpactWay, MovedRecord } from '@rigid-rule/core/rule-tests';
import type { TypeImpact } from '$lib/workers/dry-run.ts';

export interface LiveQuestion {
  readonly way: ImpactWay;
  /** Key of the rule that is switched off; empty for none. */
  readonly without: string;
  /** Number of a release; null: what is stored. */
  readonly against: number | null;
}

export interface LiveRunAnswer extends LiveQuestion {
  readonly id: number;
  readonly by: string;
  /** ISO 8601. */
  readonly at: string;
  readonly state: 'waiting' | 'running' | 'done' | 'cancelled' | 'failed';
  readonly total: number;
  readonly done: number;
  readonly types: readonly TypeImpact[];
}

/** What is behind a number: a move of a field, or a message that newly stops. */
export type Behind =
  | { readonly field: string; readonly from: string; readonly to: string }
  | { readonly message: string };

export interface RecordsBehind {
  readonly records: readonly MovedRecord[];
  readonly trait?: string;
}

const address = '/api/live-dry-run';

/** @throws in words. */
async function answerOf(asked: Promise<Response>): Promise<Response> {
  const answer = await asked;
  if (answer.ok) return answer;
  const { message } = (await answer.json().catch(() => ({}))) as { message?: string };
  throw new Error(message ?? 'The dry run on live records failed.');
}

/** What went wrong, as it is said. */
export const inWords = (e: unknown): string => (e instanceof Error ? e.message : String(e));

/** The last one, where it answers this question. */
export async function findLiveRun(question: LiveQuestion): Promise<LiveRunAnswer | undefined> {
  const { run } = (await (await answerOf(ask(address))).json()) as { run: LiveRunAnswer | null };
  const same = run?.way === question.way && run.without === question.without && run.against === question.against;
  return same ? run : undefined;
}

export async function beginLiveRun(question: LiveQuestion): Promise<void> {
  const headers = { 'content-type': 'application/json' };
  await answerOf(ask(address, { method: 'POST', headers, body: JSON.stringify(question) }));
}

export async function stopLiveRun(): Promise<void> {
  await answerOf(ask(address, { method: 'DELETE' }));
}

export async function behindLiveRun(type: string, of: Behind, most: number): Promise<RecordsBehind> {
  const asked = new URLSearchParams({ type, most: String(most), ...of });
  return (await (await answerOf(ask(`${address}/behind?${asked.toString()}`))).json()) as RecordsBehind;
}

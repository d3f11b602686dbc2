/** What a form is opened with, settled here with all that rules ask of other records answered; and its rules, for later. */
import type { Program } from '@rigid-rule/core/compile';
import { settleAnswered } from '@rigid-rule/core/related';
import { FormEngine } from '$lib/features/records/form-engine.ts';
import type { FormIdentity, FormStart } from '$lib/features/records/form-state.ts';
import { nowIn } from '../now.ts';
import { db } from './db/pool.ts';
import type { StoredRecord } from './db/records.ts';
import { DatabaseSource } from './related.ts';
import { releaseDigest } from './rulebook.ts';
import { WorkTime } from './work-time.ts';

/** `record`: null for one that is yet to be. */
export async function formStart(
  program: Program,
  identity: FormIdentity,
  record: StoredRecord | null,
): Promise<FormStart> {
  const { zone } = program.rulebook;
  const time = new WorkTime();
  const engine = new FormEngine(program, identity, { deadline: time });
  const source = new DatabaseSource(db(), zone);
  const input = { stored: record, typed: [], woken: [], handedBack: [], now: nowIn(zone) };
  const settle = () =>
    time.during(() => {
      const settled = engine.settle(input, source);
      const explained = engine.explain(input, settled, source);
      const { opening, settlement } = settled;
      return { ...settled, explained, asks: [opening, settlement, explained].flatMap((s) => s?.asks ?? []) };
    });
  const answered = await settleAnswered(settle, (ask, found) => source.put(ask, found), source.read);
  const { asks: _, ...start } = answered ?? settle();
  // A trace goes to the page as it is kept.
  return JSON.parse(JSON.stringify({ ...start, rules: engine.rules })) as FormStart;
}

/** Where a form gets its rules. It names their digest: a browser keeps them, and another release is another address. */
export function rulesAddress(typeKey: string, release: number | null): string {
  const path = `/api/records/${typeKey}/rules`;
  return release === null ? path : `${path}?release=${release}&of=${releaseDigest(release)?.slice(0, 16) ?? ''}`;
}

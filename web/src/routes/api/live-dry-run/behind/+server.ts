import type { MovedRecord } from '@rigid-rule/core/rule-tests';
import { commonTrait } from '@rigid-rule/core/rule-tests';
import { error, json } from '@sveltejs/kit';
import { writingOf } from '$lib/writing.ts';
import { authorise } from '$lib/server/auth/guard.ts';
import { findLiveRun, listBehind } from '$lib/server/db/live-dry-runs.ts';
import { db } from '$lib/server/db/pool.ts';
import { recordsInOrder } from '$lib/server/db/record-lists.ts';
import { findRecords } from '$lib/server/db/records.ts';
import { currentDraft, requireType } from '$lib/server/rulebook.ts';
import type { RequestHandler } from './$types';

/** Of each side so many are looked at for what sets those behind a number apart. */
const compared = 2000;
const mostAtOnce = 200_000;

/** The records behind a number of the last dry run on live records: of a move, or newly stopped with a message. */
export const GET: RequestHandler = async ({ url, locals }) => {
  authorise(locals, 'drift.look');
  const asked = (name: string): string => url.searchParams.get(name) ?? '';
  const run = await findLiveRun(undefined);
  if (!run) error(404, 'There was no dry run on live records yet.');
  const { rulebook } = await currentDraft();
  const type = requireType(rulebook, asked('type'));
  const message = url.searchParams.get('message');
  const of =
    message === null
      ? { field: asked('field'), from: asked('from'), to: asked('to') }
      : { field: null, from: '', to: message };
  const most = Math.min(Math.max(1, Math.trunc(Number(asked('most')) || 100)), mostAtOnce);
  const limit = Math.max(most, compared);
  const found = await listBehind(run.id, type.key, of, limit);
  const [records, others] = await Promise.all([
    findRecords(
      type.key,
      found.map((f) => f.id),
      db(),
    ),
    recordsInOrder(type.key, 0, compared),
  ]);
  const behind = new Map(records.map((r) => [r.id, r]));
  const all = [...records, ...others.filter((r) => !behind.has(r.id))].map(({ id, data }) => ({
    id: String(id),
    data,
  }));
  const trait = commonTrait(type, all, new Set(records.keys()), writingOf(rulebook));
  return json({
    // There may be more of them than were looked at.
    trait: trait && found.length === limit ? `of ${limit} looked at, ${trait}` : trait,
    records: found.slice(0, most).flatMap((f): MovedRecord[] => {
      const record = behind.get(f.id);
      const { before, after, rule } = f;
      return record
        ? [{ id: String(f.id), data: record.data, before, after, ...(rule === null ? {} : { by: rule }) }]
        : [];
    }),
  });
};

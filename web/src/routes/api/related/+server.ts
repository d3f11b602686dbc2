import { searchesOf } from '@rigid-rule/core/compile';
import type { RecordQuery } from '@rigid-rule/core/records';
import { matchModes } from '@rigid-rule/core/values';
import { json } from '@sveltejs/kit';
import { array, number, object, string } from 'yup';
import { authorise } from '$lib/server/auth/guard.ts';
import { readJson } from '$lib/server/body.ts';
import { db } from '$lib/server/db/pool.ts';
import { DatabaseSource } from '$lib/server/related.ts';
import { liveRelease, releaseProgram } from '$lib/server/rulebook.ts';
import type { RequestHandler } from './$types';

const key = string().max(200);
const ask = object({
  kind: string()
    .oneOf(['record', 'children', 'match'] as const)
    .required(),
  recordType: key.required(),
  field: key,
  mode: string().oneOf([...matchModes]),
  id: key,
  value: string().max(5000),
});
const body = object({
  asks: array(ask.required()).min(1).max(200).required(),
  /** The release whose rules ask. */
  release: number().integer().min(1).nullable(),
});

/** What rules on an open form ask of other records, all from one moment. */
export const POST: RequestHandler = async ({ request, locals }) => {
  authorise(locals, 'records.read');
  const { asks, release } = await readJson(request, body);
  const complete = asks.every((a) =>
    a.kind === 'record' ? a.id !== undefined : a.kind === 'children' ? a.field && a.id : a.field && a.mode,
  );
  if (!complete) return json({ message: 'A question lacks what it asks for.' }, { status: 400 });
  const { program } = await liveRelease();
  const asking = (release ? await releaseProgram(release) : undefined) ?? program;
  const known = new Set(searchesOf(asking.rulebook).map((s) => `${s.recordType}\0${s.field}\0${s.mode}`));
  const isAsked = (a: (typeof asks)[number]) =>
    a.kind === 'record' || known.has(`${a.recordType}\0${a.field}\0${a.kind === 'match' ? a.mode : 'exact'}`);
  if (!asks.every(isAsked)) return json({ message: 'No rule of this release asks that.' }, { status: 400 });
  const given = asks.map((a) => (a.kind === 'match' ? { ...a, value: a.value ?? '' } : a)) as readonly RecordQuery[];
  return json({ answers: await new DatabaseSource(db()).read(given) });
};

import { error, json } from '@sveltejs/kit';
import { number, object } from 'yup';
import { authorise } from '$lib/server/auth/guard.ts';
import { readJson } from '$lib/server/body.ts';
import { db } from '$lib/server/db/pool.ts';
import { questions, readQuestions } from '$lib/server/questions.ts';
import { DatabaseSource } from '$lib/server/related.ts';
import { liveRelease, releaseProgram } from '$lib/server/rulebook.ts';
import { searchName, searchNames } from '$lib/server/searches.ts';
import type { RequestHandler } from './$types';

const body = object({
  asks: questions,
  /** The release whose rules ask. */
  release: number().integer().min(1).nullable(),
});

/** What rules on an open form ask of other records, all from one moment. */
export const POST: RequestHandler = async ({ request, locals }) => {
  authorise(locals, 'records.read');
  const { asks, release } = await readJson(request, body);
  const given = readQuestions(asks);
  const { program } = await liveRelease();
  const asking = (release ? await releaseProgram(release) : undefined) ?? program;
  const known = await searchNames(asking.rulebook);
  const isAsked = (a: (typeof given)[number]) =>
    a.kind === 'record' || known.has(searchName({ ...a, mode: a.kind === 'match' ? a.mode : 'exact' }));
  if (!given.every(isAsked)) error(400, 'No rule of this release asks that.');
  return json({ answers: await new DatabaseSource(db()).read(given) });
};

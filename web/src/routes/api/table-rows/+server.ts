import type { RowsQuery, SentKey } from '@rigid-rule/core/records';
import { error, json } from '@sveltejs/kit';
import { array, mixed, number, object, string } from 'yup';
import { mostRowQuestions } from '$lib/question-limits.ts';
import { authorise } from '$lib/server/auth/guard.ts';
import { readJson } from '$lib/server/body.ts';
import { liveRelease, releaseProgram } from '$lib/server/rulebook.ts';
import { areAsked, tableRows } from '$lib/server/table-rows.ts';
import type { RequestHandler } from './$types';

const isKey = (v: unknown): v is NonNullable<SentKey> =>
  typeof v === 'string' || (Array.isArray(v) && v.every((k) => k === null || typeof k === 'string'));

const body = object({
  queries: array(
    object({
      table: string().max(200).required(),
      keys: array(mixed(isKey).nullable()).max(50).required(),
    }).required(),
  )
    .min(1)
    .max(mostRowQuestions)
    .required(),
  /** The release whose rules ask. */
  release: number().integer().min(1).nullable(),
});

/** The rows of mapping tables that a form's rules ask for and did not come with. */
export const POST: RequestHandler = async ({ request, locals }) => {
  authorise(locals, 'records.read');
  const { queries, release } = await readJson(request, body);
  const { program } = await liveRelease();
  const asking = (release ? await releaseProgram(release) : undefined) ?? program;
  const asked = queries as readonly RowsQuery[];
  if (!areAsked(asking, asked)) error(400, 'No rule of this release asks that table.');
  return json({ answers: await tableRows(asking, asked) });
};

import { rowsFor, type FoundRow, type RowsQuery, type SentKey } from '@rigid-rule/core/records';
import { error, json } from '@sveltejs/kit';
import { array, mixed, number, object, string } from 'yup';
import { Exhausted } from '@rigid-rule/core/values';
import { authorise } from '$lib/server/auth/guard.ts';
import { readJson } from '$lib/server/body.ts';
import { inSteps } from '$lib/server/in-steps.ts';
import { liveRelease, releaseProgram } from '$lib/server/rulebook.ts';
import type { RequestHandler } from './$types';

const longestKey = 5000;
const mostInList = 500;
const isKey = (v: unknown): v is NonNullable<SentKey> =>
  (typeof v === 'string' && v.length <= longestKey) ||
  (Array.isArray(v) && v.length <= mostInList && v.every((k) => k === null || typeof k === 'string'));

const body = object({
  queries: array(
    object({
      table: string().max(200).required(),
      keys: array(mixed(isKey).nullable()).max(50).required(),
    }).required(),
  )
    .min(1)
    .max(50)
    .required(),
  /** The release whose rules ask. */
  release: number().integer().min(1).nullable(),
});

/** The rows of mapping tables that a form's rules ask for and did not come with. */
export const POST: RequestHandler = async ({ request, locals }) => {
  authorise(locals, 'records.read');
  const { queries, release } = await readJson(request, body);
  const { program } = await liveRelease();
  const { tables, types } = (release ? await releaseProgram(release) : undefined) ?? program;
  const asked = new Set([...types.values()].flatMap((t) => t.rules.flatMap((r) => [...r.tables])));
  if (!queries.every((q) => asked.has(q.table))) error(400, 'No rule of this release asks that table.');
  const answers = function* () {
    const found: (readonly FoundRow[])[] = [];
    for (const q of queries) {
      yield;
      found.push(rowsFor(q as RowsQuery, tables.get(q.table)!));
    }
    return found;
  };
  try {
    return json({ answers: await inSteps(answers()) });
  } catch (e) {
    if (e instanceof Exhausted) error(422, 'To find rows of this table takes more than a rule may take.');
    throw e;
  }
};

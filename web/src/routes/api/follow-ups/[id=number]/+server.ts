import { error, json } from '@sveltejs/kit';
import { authorise } from '$lib/server/auth/guard.ts';
import { retryDependantJob } from '$lib/server/db/dependant-jobs.ts';
import { runDependants } from '$lib/server/entry-points/dependants.ts';
import type { RequestHandler } from './$types';

/** Tries once more what could not be carried through to other records, and answers when that is done. */
export const POST: RequestHandler = async ({ params, locals }) => {
  authorise(locals, 'records.write');
  if (!(await retryDependantJob(Number(params.id)))) error(404, 'There is nothing left to try again here.');
  await runDependants();
  return json({});
};

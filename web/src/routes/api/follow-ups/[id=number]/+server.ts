import { error, json } from '@sveltejs/kit';
import { authorise } from '$lib/server/auth/guard.ts';
import { retryFollowUp } from '$lib/server/db/follow-ups.ts';
import { workOffQueue } from '$lib/server/jobs/queue.ts';
import type { RequestHandler } from './$types';

/** Tries once more what could not be carried through to other records, and answers when that is done. */
export const POST: RequestHandler = async ({ params, locals }) => {
  authorise(locals, 'records.write');
  if (!(await retryFollowUp(Number(params.id)))) error(404, 'There is nothing left to try again here.');
  await workOffQueue();
  return json({});
};

import { error, json } from '@sveltejs/kit';
import { authorise } from '$lib/server/auth/guard.ts';
import { findWriteTrace } from '$lib/server/db/records.ts';
import type { RequestHandler } from './$types';

/** What the rules did in one write, as it was kept then. */
export const GET: RequestHandler = async ({ params, locals }) => {
  authorise(locals, 'records.read');
  const found = await findWriteTrace(params.type, Number(params.id), Number(params.write));
  if (!found) error(404, 'This record has no such write.');
  return json(found);
};

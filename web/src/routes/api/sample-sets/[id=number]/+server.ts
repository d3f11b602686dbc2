import { error } from '@sveltejs/kit';
import { authorise } from '$lib/server/auth/guard.ts';
import { insertAudit } from '$lib/server/db/audit.ts';
import { deleteSampleSet, listSampleSets } from '$lib/server/db/samples.ts';
import type { RequestHandler } from './$types';

/** Takes a set away with its records; the last one stays. */
export const DELETE: RequestHandler = async ({ params, locals }) => {
  const user = authorise(locals, 'samples.write');
  const id = Number(params.id);
  const sets = await listSampleSets();
  const set = sets.find((s) => s.id === id);
  if (!set) error(404, 'There is no such set.');
  if (sets.length === 1) error(409, 'This is the only set: make another one first.');
  await deleteSampleSet(id);
  await insertAudit('sample set removed', user.id, { set: id, name: set.name });
  return new Response(null, { status: 204 });
};

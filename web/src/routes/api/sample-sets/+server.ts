import { error, json } from '@sveltejs/kit';
import { object, string } from 'yup';
import { authorise } from '$lib/server/auth/guard.ts';
import { readJson } from '$lib/server/body.ts';
import { insertAudit } from '$lib/server/db/audit.ts';
import { insertSampleSet, listSampleSets } from '$lib/server/db/samples.ts';
import type { RequestHandler } from './$types';

const made = object({
  name: string().trim().min(1, 'Give the set a name.').max(100).required('Give the set a name.'),
  source: string().oneOf(['imported', 'generated']).required(),
}).noUnknown();

export const GET: RequestHandler = async ({ locals }) => {
  authorise(locals, 'rulebook.read');
  return json({ sets: await listSampleSets() });
};

/** An empty set, to be filled. */
export const POST: RequestHandler = async ({ request, locals }) => {
  const user = authorise(locals, 'samples.write');
  const { name, source } = await readJson(request, made);
  const id = await insertSampleSet({ name, source, madeBy: user.id });
  if (id === undefined) error(409, `There is a set called ${name} already.`);
  await insertAudit('sample set made', user.id, { set: id, name, source });
  return json({ id }, { status: 201 });
};

import { json } from '@sveltejs/kit';
import { authorise } from '$lib/server/auth/guard.ts';
import { loadSamples } from '$lib/server/db/samples.ts';
import { currentDraft, requireType } from '$lib/server/rulebook.ts';
import type { RequestHandler } from './$types';

/** The sample records of a type. */
export const GET: RequestHandler = async ({ params, locals }) => {
  authorise(locals, 'rulebook.read');
  const { rulebook } = await currentDraft();
  return json({ samples: await loadSamples(requireType(rulebook, params.type).key) });
};

import { json } from '@sveltejs/kit';
import { authorise } from '$lib/server/auth/guard.ts';
import { loadSamples } from '$lib/server/db/samples.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = async ({ params, locals }) => {
  authorise(locals, 'rulebook.read');
  return json(await loadSamples(params.type));
};

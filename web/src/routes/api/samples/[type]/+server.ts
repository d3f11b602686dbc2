import { json } from '@sveltejs/kit';
import { authorise } from '$lib/server/auth/guard.ts';
import { loadSamples } from '$lib/server/db/samples.ts';
import { currentDraft, requireType } from '$lib/server/rulebook.ts';
import { wholeNumber } from '$lib/server/whole-number.ts';
import type { RequestHandler } from './$types';

/** Sample records of a type: of the set asked for, else of the oldest; `most` of them at most. */
export const GET: RequestHandler = async ({ params, url, locals }) => {
  authorise(locals, 'rulebook.read');
  const { rulebook } = await currentDraft();
  const { key } = requireType(rulebook, params.type);
  const [set, most] = [wholeNumber(url.searchParams.get('set')), wholeNumber(url.searchParams.get('most'))];
  return json({ samples: await loadSamples(key, set, most) });
};

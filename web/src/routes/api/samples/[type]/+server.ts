import { json } from '@sveltejs/kit';
import { authorise } from '$lib/server/auth/guard.ts';
import { loadSamples } from '$lib/server/db/samples.ts';
import { currentDraft, requireType } from '$lib/server/rulebook.ts';
import type { RequestHandler } from './$types';

const whole = (text: string | null): number | undefined => {
  const n = Number(text ?? NaN);
  return Number.isSafeInteger(n) && n > 0 ? n : undefined;
};

/** Sample records of a type: of the set asked for, else of the oldest; `most` of them at most. */
export const GET: RequestHandler = async ({ params, url, locals }) => {
  authorise(locals, 'rulebook.read');
  const { rulebook } = await currentDraft();
  const { key } = requireType(rulebook, params.type);
  const [set, most] = [whole(url.searchParams.get('set')), whole(url.searchParams.get('most'))];
  return json({ samples: await loadSamples(key, set, most) });
};

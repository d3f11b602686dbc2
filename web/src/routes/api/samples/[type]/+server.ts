import { json } from '@sveltejs/kit';
import { countSamples, loadSamples } from '$lib/server/db/samples.ts';
import { askedSamples } from '$lib/server/asked-samples.ts';
import { wholeNumber } from '$lib/whole-number.ts';
import type { RequestHandler } from './$types';

/** Sample records of a type in order: `most` of them after the first `from`; with the first, how many there are in all. */
export const GET: RequestHandler = async (event) => {
  const { set, type } = await askedSamples(event);
  const [from, most] = ['from', 'most'].map((name) => wholeNumber(event.url.searchParams.get(name)));
  if (set === undefined) return json({ total: 0, samples: [] });
  const [total, samples] = await Promise.all([
    from ? undefined : countSamples(set, type.key),
    loadSamples(set, type.key, from, most),
  ]);
  return json({ total, samples });
};

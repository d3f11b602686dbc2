import { recordTitle } from '@rigid-rule/core/language';
import { json } from '@sveltejs/kit';
import { askedSamples } from '$lib/server/asked-samples.ts';
import { findSamples } from '$lib/server/db/samples.ts';
import type { RequestHandler } from './$types';

const most = 20;

/** Samples of a type whose title holds the text. */
export const GET: RequestHandler = async (event) => {
  const { set, type } = await askedSamples(event);
  const text = (event.url.searchParams.get('q') ?? '').slice(0, 200);
  const found = set === undefined ? [] : await findSamples(set, type, text, most);
  return json(found.map(({ id, data }) => ({ id, title: recordTitle(type, data) || 'no name' })));
};

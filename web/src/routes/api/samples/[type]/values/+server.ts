import { error, json } from '@sveltejs/kit';
import { askedSamples } from '$lib/server/asked-samples.ts';
import { countValues } from '$lib/server/db/samples.ts';
import type { RequestHandler } from './$types';

const mostFields = 20;

/** What samples of a type hold in each `field` asked for, and how many hold it. */
export const GET: RequestHandler = async (event) => {
  const { set, type } = await askedSamples(event);
  const fields = event.url.searchParams.getAll('field');
  if (fields.length === 0 || fields.length > mostFields) error(400, `Ask for 1 to ${mostFields} fields.`);
  return json({ values: set === undefined ? [] : await countValues(set, type.key, fields) });
};

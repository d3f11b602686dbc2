import { packedLine } from '@rigid-rule/core/records';
import { authorise } from '$lib/server/auth/guard.ts';
import { sampleTexts, usualSampleSet } from '$lib/server/db/samples.ts';
import { currentDraft, requireType } from '$lib/server/rulebook.ts';
import { wholeNumber } from '$lib/server/whole-number.ts';
import type { RequestHandler } from './$types';

/** Records of one query. */
const page = 2000;

/** All sample records of a type as lines, in order of id, read and sent page by page however many there are. */
export const GET: RequestHandler = async ({ params, url, locals }) => {
  authorise(locals, 'rulebook.read');
  const { key } = requireType((await currentDraft()).rulebook, params.type);
  const set = await usualSampleSet(wholeNumber(url.searchParams.get('set')));
  const encoder = new TextEncoder();
  let after = 0;
  const lines = new ReadableStream<Uint8Array>({
    async pull(controller) {
      const rows = set === undefined ? [] : await sampleTexts(set, key, after, page);
      if (rows.length > 0) controller.enqueue(encoder.encode(rows.map((r) => packedLine(r.id, r.json)).join('')));
      after = rows.at(-1)?.id ?? after;
      if (rows.length < page) controller.close();
    },
  });
  return new Response(lines, { headers: { 'content-type': 'text/tab-separated-values; charset=utf-8' } });
};

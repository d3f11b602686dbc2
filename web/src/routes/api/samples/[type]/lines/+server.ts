import { packedLine } from '@rigid-rule/core/records';
import { askedSamples } from '$lib/server/asked-samples.ts';
import { sampleTexts } from '$lib/server/db/samples.ts';
import type { RequestHandler } from './$types';

/** Records of one query. */
const page = 2000;

/** All sample records of a type as lines, in order of id, read and sent page by page however many there are. */
export const GET: RequestHandler = async (event) => {
  const { set, type } = await askedSamples(event);
  const encoder = new TextEncoder();
  let after = 0;
  const lines = new ReadableStream<Uint8Array>({
    async pull(controller) {
      const rows = set === undefined ? [] : await sampleTexts(set, type.key, after, page);
      if (rows.length > 0) controller.enqueue(encoder.encode(rows.map((r) => packedLine(r.id, r.json)).join('')));
      after = rows.at(-1)?.id ?? after;
      if (rows.length < page) controller.close();
    },
  });
  return new Response(lines, { headers: { 'content-type': 'text/tab-separated-values; charset=utf-8' } });
};

import { json } from '@sveltejs/kit';
import { authorise } from '$lib/server/auth/guard.ts';
import { listRecords, recordTitle } from '$lib/server/db/records.ts';
import { loadSamples } from '$lib/server/db/samples.ts';
import { currentDraft, live, requireType } from '$lib/server/rulebook.ts';
import type { RequestHandler } from './$types';

const most = 20;

async function sampleLinks(typeKey: string, url: URL) {
  const { rulebook } = await currentDraft();
  const type = requireType(rulebook, typeKey);
  const wanted = (url.searchParams.get('q') ?? '').toLowerCase();
  const named = (await loadSamples(typeKey)).map(({ id, data }) => ({ id, title: recordTitle(type, data) }));
  return named.filter((s) => s.title.toLowerCase().includes(wanted)).slice(0, most);
}

/** Records of a type whose title holds the text: what a lookup can link to. */
export const GET: RequestHandler = async ({ params, url, locals }) => {
  authorise(locals, 'records.read');
  if (url.searchParams.get('from') === 'samples') return json(await sampleLinks(params.type, url));
  const { program } = await live();
  const type = requireType(program.rulebook, params.type);
  const search = (url.searchParams.get('q') ?? '').slice(0, 200);
  const { rows } = await listRecords(type, {
    search,
    only: {},
    sort: type.title[0]!,
    descending: false,
    offset: 0,
    limit: most,
  });
  return json(rows.map(({ id, data }) => ({ id, title: recordTitle(type, data) })));
};

import { json } from '@sveltejs/kit';
import { authorise } from '$lib/server/auth/guard.ts';
import { recordTitle } from '@rigid-rule/core/language';
import { listRecords } from '$lib/server/db/record-lists.ts';
import { liveRelease, requireType } from '$lib/server/rulebook.ts';
import type { RequestHandler } from './$types';

const most = 20;

/** Records of a type whose title holds the text: what a lookup can link to. */
export const GET: RequestHandler = async ({ params, url, locals }) => {
  authorise(locals, 'records.read');
  const { program } = await liveRelease();
  const type = requireType(program.rulebook, params.type);
  const search = (url.searchParams.get('q') ?? '').slice(0, 200);
  const { rows } = await listRecords(type, {
    search,
    filters: [],
    zone: program.rulebook.zone,
    sort: type.title[0]!,
    descending: false,
    offset: 0,
    limit: most,
  });
  return json(rows.map(({ id, data }) => ({ id, title: recordTitle(type, data) || 'no name' })));
};

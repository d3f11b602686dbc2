import { error } from '@sveltejs/kit';
import { unreadFilters } from '$lib/list-filters.ts';
import { authorise } from '$lib/server/auth/guard.ts';
import { insertAudit } from '$lib/server/db/audit.ts';
import { csvResponse } from '$lib/server/csv-response.ts';
import { recordLines } from '$lib/server/record-csv.ts';
import { liveRelease, requireType } from '$lib/server/rulebook.ts';
import type { RequestHandler } from './$types';

/** The list of the same address as a file. A file does not say what it holds too much: none is made then. */
export const GET: RequestHandler = async ({ params, url, locals }) => {
  const user = authorise(locals, 'records.read');
  const { rulebook } = (await liveRelease()).program;
  const type = requireType(rulebook, params.type);
  const [unread] = unreadFilters(type, url.searchParams);
  if (unread !== undefined) error(400, `${type.plural} cannot be filtered by ${unread}.`);
  await insertAudit('exported records', user.id, { type: type.key, list: url.search.slice(0, 1000) });
  const { head, pieces } = recordLines(rulebook, type, url);
  return csvResponse(head, pieces, type.plural.toLowerCase().replace(/[^a-z0-9]+/g, '-'));
};

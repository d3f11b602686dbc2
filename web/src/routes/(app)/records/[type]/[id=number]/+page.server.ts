import { error } from '@sveltejs/kit';
import { authorise } from '$lib/server/auth/guard.ts';
import { may } from '$lib/server/auth/roles.ts';
import { findRecord } from '$lib/server/db/records.ts';
import { recordPage } from '$lib/server/record-page.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, params, url }) => {
  const user = authorise(locals, 'records.read');
  const record = await findRecord(params.type, Number(params.id));
  if (!record) error(404, 'There is no such record. It may have been removed.');
  const page = await recordPage(params.type, url.searchParams.get('form'), record, user);
  return { ...page, record, mayWrite: may(user.role, 'records.write') };
};

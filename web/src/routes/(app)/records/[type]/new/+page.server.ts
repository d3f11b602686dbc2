import { authorise } from '$lib/server/auth/guard.ts';
import { recordPage } from '$lib/server/record-page.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, params, url }) => {
  const user = authorise(locals, 'records.write');
  return { ...(await recordPage(params.type, url.searchParams.get('form'), null, user)), mayWrite: true };
};

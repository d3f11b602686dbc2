import { error } from '@sveltejs/kit';
import { currentDraft, requireType } from '$lib/server/rulebook.ts';
import type { PageServerLoad } from './$types';

/** What is not there is said on the first visit; later the draft in the browser knows better, new rules included. */
export const load: PageServerLoad = async ({ params, isDataRequest }) => {
  if (isDataRequest) return;
  const { rulebook } = await currentDraft();
  requireType(rulebook, params.type);
  if (params.rule && !rulebook.rules.some((r) => r.key === params.rule && r.recordType === params.type))
    error(404, 'There is no such rule in the draft. It may have been renamed or removed.');
};

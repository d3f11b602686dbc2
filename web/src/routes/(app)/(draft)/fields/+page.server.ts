import { redirect } from '@sveltejs/kit';
import { authorise } from '$lib/server/auth/guard.ts';
import { currentDraft } from '$lib/server/rulebook.ts';
import type { PageServerLoad } from './$types';

/** Opens on the first record type. */
export const load: PageServerLoad = async ({ locals }) => {
  authorise(locals, 'rulebook.read');
  redirect(303, `/fields/${(await currentDraft()).rulebook.recordTypes[0]!.key}`);
};

import { fieldsOf } from '$lib/addresses.ts';
import { redirect } from '@sveltejs/kit';
import { authorise } from '$lib/server/auth/guard.ts';
import { currentDraft } from '$lib/server/rulebook.ts';
import type { PageServerLoad } from './$types';

/** Opens on the first record type; where there is none, that is made here. */
export const load: PageServerLoad = async ({ locals }) => {
  authorise(locals, 'rulebook.read');
  const [first] = (await currentDraft()).rulebook.recordTypes;
  if (first) redirect(303, fieldsOf(first.key));
};

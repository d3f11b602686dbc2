import { fieldsPath, mapOf } from '$lib/addresses.ts';
import { redirect } from '@sveltejs/kit';
import { currentDraft } from '$lib/server/rulebook.ts';
import { authorise } from '$lib/server/auth/guard.ts';
import type { PageServerLoad } from './$types';

/** The map opens on the first record type. */
export const load: PageServerLoad = async ({ locals }) => {
  authorise(locals, 'rulebook.read');
  const { rulebook } = await currentDraft();
  const type = rulebook.recordTypes[0]?.key;
  redirect(303, type === undefined ? fieldsPath : mapOf(type));
};

import { fieldsPath, recordsOf } from '$lib/addresses.ts';
import { redirect } from '@sveltejs/kit';
import { authorise } from '$lib/server/auth/guard.ts';
import { liveRelease } from '$lib/server/rulebook.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => {
  authorise(locals, 'records.read');
  const { rulebook } = (await liveRelease()).program;
  const [first] = rulebook.recordTypes;
  redirect(303, first ? recordsOf(first.key) : fieldsPath);
};

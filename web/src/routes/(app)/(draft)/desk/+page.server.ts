import { deskOf, fieldsPath, ruleAddress } from '$lib/addresses.ts';
import { redirect } from '@sveltejs/kit';
import { currentDraft } from '$lib/server/rulebook.ts';
import { authorise } from '$lib/server/auth/guard.ts';
import type { PageServerLoad } from './$types';

/** The desk opens on the first record type, and there on its first rule. */
export const load: PageServerLoad = async ({ locals }) => {
  authorise(locals, 'rulebook.read');
  const { rulebook } = await currentDraft();
  const type = rulebook.recordTypes[0]?.key;
  if (type === undefined) redirect(303, fieldsPath);
  const rule = rulebook.rules.find((r) => r.recordType === type);
  redirect(303, rule ? ruleAddress(type, rule.key) : deskOf(type));
};

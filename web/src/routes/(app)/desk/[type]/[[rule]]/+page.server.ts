import { error } from '@sveltejs/kit';
import { authorise } from '$lib/server/auth/guard.ts';
import { may } from '$lib/server/auth/roles.ts';
import { lastDraftEdit } from '$lib/server/db/draft.ts';
import { listUsers } from '$lib/server/db/users.ts';
import { currentDraft, requireType } from '$lib/server/rulebook.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, params }) => {
  const user = authorise(locals, 'rulebook.read');
  const [{ parts, rulebook }, lastEdit, users] = await Promise.all([currentDraft(), lastDraftEdit(), listUsers()]);
  requireType(rulebook, params.type);
  if (params.rule && !rulebook.rules.some((r) => r.key === params.rule && r.recordType === params.type))
    error(404, 'There is no such rule in the draft. It may have been renamed or removed.');
  return { parts, users, editable: may(user.role, 'rulebook.write'), savedAt: lastEdit?.at };
};

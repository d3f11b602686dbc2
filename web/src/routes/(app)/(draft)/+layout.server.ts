import { authorise } from '$lib/server/auth/guard.ts';
import { may } from '$lib/server/auth/roles.ts';
import { lastDraftEdit } from '$lib/server/db/draft.ts';
import { listUsers } from '$lib/server/db/users.ts';
import { currentDraft } from '$lib/server/rulebook.ts';
import type { LayoutServerLoad } from './$types';

/** The draft, for all areas that work on it: loaded once, then followed. */
export const load: LayoutServerLoad = async ({ locals }) => {
  const user = authorise(locals, 'rulebook.read');
  const [{ parts }, lastEdit, users] = await Promise.all([currentDraft(), lastDraftEdit(), listUsers()]);
  const rights = {
    editable: may(user.role, 'rulebook.write'),
    keeper: may(user.role, 'tables.keep') ? user.email : undefined,
    savedAt: lastEdit?.at,
    owner: user.email,
  };
  return { parts, users, rights };
};

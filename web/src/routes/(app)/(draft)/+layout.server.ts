import { authorise } from '$lib/server/auth/guard.ts';
import { may } from '$lib/server/auth/roles.ts';
import { lastDraftEdit } from '$lib/server/db/draft.ts';
import { listUsers } from '$lib/server/db/users.ts';
import { currentDraft } from '$lib/server/rulebook.ts';
import type { VersionedPart } from '$lib/draft-protocol.ts';
import { sum } from 'd3-array';
import type { LayoutServerLoad } from './$types';

/**
 * Parts and rows of tables that a draft has which still comes with its page. Longer ones are read on their own: to put
 * their page together on the server takes long, and everybody else waits meanwhile.
 */
const mostInPage = 1500;
const rowsOf = ({ body }: VersionedPart): number => {
  const rows = (body as { readonly rows?: unknown } | null)?.rows;
  return Array.isArray(rows) ? rows.length : 0;
};

/** The draft, for all areas that work on it: loaded once, then followed. */
export const load: LayoutServerLoad = async ({ locals }) => {
  const user = authorise(locals, 'rulebook.read');
  const [{ parts, stamp }, lastEdit, users] = await Promise.all([currentDraft(), lastDraftEdit(), listUsers()]);
  const rights = {
    editable: may(user.role, 'rulebook.write'),
    keeper: may(user.role, 'tables.keep') ? user.email : undefined,
    savedAt: lastEdit?.at,
    owner: user.email,
  };
  const size = sum(parts, (part) => 1 + rowsOf(part));
  return { parts: size > mostInPage ? undefined : parts, stamp, users, rights };
};

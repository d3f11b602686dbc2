import { authorise } from '$lib/server/auth/guard.ts';
import { may } from '$lib/server/auth/roles.ts';
import { countFollowUps } from '$lib/server/db/follow-ups.ts';
import { listUsers } from '$lib/server/db/users.ts';
import { columnsOf, listWindow } from '$lib/server/record-list.ts';
import { liveRelease, requireType } from '$lib/server/rulebook.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, params, url }) => {
  const user = authorise(locals, 'records.read');
  const { rulebook } = (await liveRelease()).program;
  const recordType = requireType(rulebook, params.type);
  return {
    recordType,
    columns: columnsOf(recordType, url.searchParams.get('cols')),
    first: await listWindow(rulebook, recordType, url),
    users: (await listUsers()).map(({ email, name }) => ({ email, name })),
    followUps: await countFollowUps(),
    mayWrite: may(user.role, 'records.write'),
  };
};

import { authorise } from '$lib/server/auth/guard.ts';
import { may } from '$lib/server/auth/roles.ts';
import { failedFollowUps } from '$lib/server/follow-ups.ts';
import { liveRelease } from '$lib/server/rulebook.ts';
import { linkTitles } from '$lib/server/titles.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => {
  const user = authorise(locals, 'records.read');
  const { rulebook } = (await liveRelease()).program;
  const { counts, jobs } = await failedFollowUps();
  const records = jobs.flatMap((j) =>
    j.failures.flatMap(({ recordType, id }) => (recordType && id ? [{ recordType, id: String(id) }] : [])),
  );
  return {
    counts,
    jobs,
    titles: await linkTitles(rulebook, [], [], records),
    typeNames: Object.fromEntries(rulebook.recordTypes.map((t) => [t.key, t.name])),
    mayWrite: may(user.role, 'records.write'),
  };
};

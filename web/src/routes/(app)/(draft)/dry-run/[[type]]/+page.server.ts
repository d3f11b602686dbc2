import { authorise } from '$lib/server/auth/guard.ts';
import { may } from '$lib/server/auth/roles.ts';
import { listReleases } from '$lib/server/db/releases.ts';
import { listSampleSets } from '$lib/server/db/samples.ts';
import { liveRelease } from '$lib/server/rulebook.ts';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => {
  const { role } = authorise(locals, 'rulebook.read');
  const [sets, { release }, releases] = await Promise.all([listSampleSets(), liveRelease(), listReleases()]);
  return {
    sets,
    live: release,
    releases: releases.map((r) => r.number),
    mayAgree: may(role, 'impact.agree'),
    mayMakeSets: may(role, 'samples.write'),
    mayLook: may(role, 'drift.look'),
  };
};

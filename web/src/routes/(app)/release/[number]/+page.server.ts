import { error } from '@sveltejs/kit';
import { authorise } from '$lib/server/auth/guard.ts';
import { may } from '$lib/server/auth/roles.ts';
import { listActivations, listReleases, releaseBefore } from '$lib/server/db/releases.ts';
import { putBackAsked } from '$lib/server/put-back.ts';
import { changesOfRelease } from '$lib/server/release-changes.ts';
import { againsts, changesAtOnce } from '$lib/features/release/changes.ts';
import { wholeNumber } from '$lib/whole-number.ts';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, params, url }) => {
  const user = authorise(locals, 'rulebook.read');
  const number = wholeNumber(params.number);
  const [releases, activations] = await Promise.all([listReleases(), listActivations()]);
  const release = releases.find((r) => r.number === number);
  if (!release) error(404, 'There is no such release.');
  const live = activations[0]?.release ?? null;
  const asked = againsts.find((a) => a === url.searchParams.get('against')) ?? 'before';
  // Nothing changes where it is live already.
  const against = release.number === live ? 'before' : asked;
  const changes = (await changesOfRelease(release.number, against)) ?? error(404, 'There is no such release.');
  return {
    release,
    live,
    activations,
    against,
    /** What it is compared with. */
    other: (against === 'live' ? live : await releaseBefore(release.number)) ?? null,
    count: changes.count,
    beginning: changes.part(0, changesAtOnce),
    mayRelease: may(user.role, 'release'),
  };
};

export const actions: Actions = { putBack: putBackAsked };

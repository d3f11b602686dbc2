import { fail } from '@sveltejs/kit';
import { object, string } from 'yup';
import { authorise } from '$lib/server/auth/guard.ts';
import { may } from '$lib/server/auth/roles.ts';
import { readForm } from '$lib/server/body.ts';
import { lastDraftEdit } from '$lib/server/db/draft.ts';
import { listActivations, listReleases } from '$lib/server/db/releases.ts';
import { putBackAsked } from '$lib/server/put-back.ts';
import { releaseDraft } from '$lib/server/release.ts';
import { releaseChanges, withEditors } from '$lib/server/release-changes.ts';
import { fingerprint } from '$lib/server/snapshot.ts';
import { placeOf } from '$lib/features/findings/places.ts';
import { LateError, readinessOf } from '$lib/server/readiness.ts';
import { compiled, currentDraft, liveRelease } from '$lib/server/rulebook.ts';
import { changesAtOnce } from '$lib/features/release/changes.ts';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => {
  const user = authorise(locals, 'rulebook.read');
  const [{ rulebook }, current, releases, activations, lastEdit] = await Promise.all([
    currentDraft(),
    liveRelease(),
    listReleases(),
    listActivations(),
    lastDraftEdit(),
  ]);
  // A draft that takes too long to look through is shown all the same; it cannot be released.
  const { blocking, open, tests, failing, late } = await readinessOf(rulebook).then(
    (r) => ({ ...r, late: undefined }),
    (e: unknown) => {
      if (!(e instanceof LateError)) throw e;
      return { blocking: [], open: 0, tests: 0, failing: [], late: e.message };
    },
  );
  const mayRelease = may(user.role, 'release');
  const digest = await fingerprint(rulebook);
  // Who reads this may press in a moment: what goes live then is compiled by now, in steps beside the requests.
  if (mayRelease && blocking.length === 0 && late === undefined) void compiled(digest, () => rulebook);
  const changes = await releaseChanges(rulebook, current);
  return {
    mayRelease,
    live: current.release,
    releases,
    activations,
    lastEdit,
    changeCount: changes.count,
    /** Those that are told at once. */
    beginning: await withEditors(changes.part(0, changesAtOnce)),
    zone: rulebook.zone,
    blocking: blocking.map((f) => ({ key: f.key, sentence: f.sentence, place: placeOf(f, rulebook) })),
    open,
    tests,
    failing,
    late,
    fingerprint: digest,
  };
};

const release = object({
  note: string()
    .trim()
    .max(2000, 'A note takes at most 2,000 characters.')
    .required('Write a note: what changes, and why.'),
  fingerprint: string().length(64).required(),
  reason: string().trim().max(2000, 'A reason takes at most 2,000 characters.').default(''),
});

export const actions: Actions = {
  release: async ({ request, locals }) => {
    const user = authorise(locals, 'release');
    const form = await readForm(request, release);
    if ('wrong' in form) return fail(400, { problem: form.wrong, note: form.sent['note'] });
    const { note, fingerprint, reason } = form.given;
    const result = await releaseDraft(note, fingerprint, user.id, reason);
    if ('problem' in result) return fail(409, { problem: result.problem, note });
    return { released: result.number };
  },
  putBack: putBackAsked,
};

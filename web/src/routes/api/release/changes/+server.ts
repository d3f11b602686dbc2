import { error, json } from '@sveltejs/kit';
import { changesInStep } from '$lib/features/release/changes.ts';
import { authorise } from '$lib/server/auth/guard.ts';
import { releaseChanges } from '$lib/server/release-changes.ts';
import { currentDraft, liveRelease } from '$lib/server/rulebook.ts';
import { wholeNumber } from '$lib/whole-number.ts';
import type { RequestHandler } from './$types';

/** What the draft of a fingerprint changes about what is live, after the first `from` changes. */
export const GET: RequestHandler = async ({ locals, url }) => {
  authorise(locals, 'rulebook.read');
  const from = wholeNumber(url.searchParams.get('from'));
  if (from === undefined) error(400, 'from is a whole number over zero.');
  const [{ rulebook }, live] = await Promise.all([currentDraft(), liveRelease()]);
  const changes = await releaseChanges(rulebook, live);
  if (url.searchParams.get('fingerprint') !== changes.fingerprint) error(409, 'The draft is another by now.');
  return json(changes.part(from, changesInStep));
};

import { error, json } from '@sveltejs/kit';
import { againsts, changesInStep, phrasesInStep } from '$lib/features/release/changes.ts';
import { authorise } from '$lib/server/auth/guard.ts';
import { changesOfRelease, releaseChanges, withEditors, type ReleaseChanges } from '$lib/server/release-changes.ts';
import { currentDraft, liveRelease } from '$lib/server/rulebook.ts';
import { wholeNumber } from '$lib/whole-number.ts';
import type { RequestHandler } from './$types';

/** What a release changed (`release`, `against`), or the draft of a `fingerprint` changes about what is live. */
async function askedFor(query: URLSearchParams): Promise<ReleaseChanges> {
  if (query.has('release')) {
    const number = wholeNumber(query.get('release'));
    const against = againsts.find((a) => a === query.get('against')) ?? error(400, 'against is before or live.');
    const changes = number === undefined ? undefined : await changesOfRelease(number, against);
    return changes ?? error(404, 'There is no such release.');
  }
  const [{ rulebook }, live] = await Promise.all([currentDraft(), liveRelease()]);
  const changes = await releaseChanges(rulebook, live);
  if (query.get('fingerprint') !== changes.fingerprint) error(409, 'The draft is another by now.');
  return changes;
}

/** Changes after the first `from`; with `change`, counted from none, phrases of that one after its first `from`. */
export const GET: RequestHandler = async ({ locals, url }) => {
  authorise(locals, 'rulebook.read');
  const query = url.searchParams;
  const from = wholeNumber(query.get('from'));
  if (from === undefined) error(400, 'from is a whole number over zero.');
  const changes = await askedFor(query);
  if (!query.has('change')) {
    const part = changes.part(from, changesInStep);
    return json(query.has('release') ? part : await withEditors(part));
  }
  const change = query.get('change') === '0' ? 0 : wholeNumber(query.get('change'));
  const phrases = change === undefined ? undefined : changes.phrases(change, from, phrasesInStep);
  return json(phrases ?? error(404, 'There is no such change.'));
};

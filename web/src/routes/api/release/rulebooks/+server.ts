import { error, json } from '@sveltejs/kit';
import { authorise } from '$lib/server/auth/guard.ts';
import { currentDraft, liveRelease, releaseProgram } from '$lib/server/rulebook.ts';
import type { RequestHandler } from './$types';

/** The two rulebooks that a release or a dry run compares: what is live, or a release by its number, and the draft. */
export const GET: RequestHandler = async ({ locals, url }) => {
  authorise(locals, 'rulebook.read');
  const asked = url.searchParams.get('number');
  if (asked !== null) {
    const number = /^\d{1,9}$/.test(asked) ? Number(asked) : 0;
    const program = number > 0 ? await releaseProgram(number) : undefined;
    if (!program) error(404, 'There is no such release.');
    return json({ live: program.rulebook, release: number });
  }
  const [{ rulebook }, current] = await Promise.all([currentDraft(), liveRelease()]);
  return json({ live: current.program.rulebook, release: current.release, draft: rulebook });
};

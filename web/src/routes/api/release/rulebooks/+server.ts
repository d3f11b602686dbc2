import { error } from '@sveltejs/kit';
import { authorise } from '$lib/server/auth/guard.ts';
import { jsonStream } from '$lib/server/json-texts.ts';
import { currentDraft, liveRelease, releaseProgram } from '$lib/server/rulebook.ts';
import type { RequestHandler } from './$types';

/** Down to the rows of a table: the answer, a rulebook, its tables, one of them. */
const depth = 4;

/** The two rulebooks that a release or a dry run compares: what is live, or a release by its number, and the draft. */
export const GET: RequestHandler = async ({ locals, url }) => {
  authorise(locals, 'rulebook.read');
  const asked = url.searchParams.get('number');
  if (asked !== null) {
    const number = /^\d{1,9}$/.test(asked) ? Number(asked) : 0;
    const program = number > 0 ? await releaseProgram(number) : undefined;
    if (!program) error(404, 'There is no such release.');
    return jsonStream({ live: program.rulebook, release: number }, depth);
  }
  const [{ rulebook }, current] = await Promise.all([currentDraft(), liveRelease()]);
  return jsonStream({ live: current.program.rulebook, release: current.release, draft: rulebook }, depth);
};

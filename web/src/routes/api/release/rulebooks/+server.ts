import { json } from '@sveltejs/kit';
import { authorise } from '$lib/server/auth/guard.ts';
import { currentDraft, liveRelease } from '$lib/server/rulebook.ts';
import type { RequestHandler } from './$types';

/** The two rulebooks that a release or a dry run compares: what is live, and the draft. */
export const GET: RequestHandler = async ({ locals }) => {
  authorise(locals, 'rulebook.read');
  const [{ rulebook }, current] = await Promise.all([currentDraft(), liveRelease()]);
  return json({ live: current.program.rulebook, release: current.release, draft: rulebook });
};

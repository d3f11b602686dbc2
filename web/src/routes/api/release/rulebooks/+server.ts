import { json } from '@sveltejs/kit';
import { authorise } from '$lib/server/auth/guard.ts';
import { loadSamples } from '$lib/server/db/samples.ts';
import { currentDraft, liveRelease } from '$lib/server/rulebook.ts';
import type { RequestHandler } from './$types';

/** What a release page compares: the live rulebook, the draft, and the samples that both are tried on. */
export const GET: RequestHandler = async ({ locals }) => {
  authorise(locals, 'rulebook.read');
  const [{ rulebook }, current] = await Promise.all([currentDraft(), liveRelease()]);
  const samples = [];
  for (const { key } of rulebook.recordTypes)
    for (const { id, data } of await loadSamples(key)) samples.push({ recordType: key, id: String(id), data });
  return json({ live: current.program.rulebook, draft: rulebook, samples });
};

import { json } from '@sveltejs/kit';
import { authorise } from '$lib/server/auth/guard.ts';
import { loadDraft } from '$lib/server/db/draft.ts';
import type { RequestHandler } from './$types';

/** The whole draft: what a page asks for after it may have missed edits. */
export const GET: RequestHandler = async ({ locals }) => {
  authorise(locals, 'rulebook.read');
  return json({ parts: (await loadDraft()).parts });
};

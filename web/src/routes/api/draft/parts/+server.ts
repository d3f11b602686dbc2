import { authorise } from '$lib/server/auth/guard.ts';
import { draftBytes } from '$lib/server/draft-json.ts';
import { currentDraft } from '$lib/server/rulebook.ts';
import type { RequestHandler } from './$types';

/** The whole draft: what a page asks for where it is large, and after it may have missed edits. */
export const GET: RequestHandler = async ({ locals }) => {
  authorise(locals, 'rulebook.read');
  return new Response(await draftBytes(await currentDraft()), { headers: { 'content-type': 'application/json' } });
};

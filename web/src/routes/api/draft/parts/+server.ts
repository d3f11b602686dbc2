import { json } from '@sveltejs/kit';
import { authorise } from '$lib/server/auth/guard.ts';
import { currentDraft } from '$lib/server/rulebook.ts';
import type { WholeDraft } from '$lib/draft-protocol.ts';
import type { RequestHandler } from './$types';

/** The whole draft: what a page asks for where it is large, and after it may have missed edits. */
export const GET: RequestHandler = async ({ locals }) => {
  authorise(locals, 'rulebook.read');
  const { parts, stamp } = await currentDraft();
  return json({ parts, stamp } satisfies WholeDraft);
};

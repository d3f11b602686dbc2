import { json } from '@sveltejs/kit';
import { authorise } from '$lib/server/auth/guard.ts';
import { listWindow } from '$lib/server/record-list.ts';
import { liveRelease, requireType } from '$lib/server/rulebook.ts';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = async ({ params, url, locals }) => {
  authorise(locals, 'records.read');
  const { rulebook } = (await liveRelease()).program;
  return json(await listWindow(rulebook, requireType(rulebook, params.type), url));
};

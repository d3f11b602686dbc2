import { error, json } from '@sveltejs/kit';
import { isDemo } from '$lib/server/demo.ts';
import type { RequestHandler } from './$types';

/** The demo's sign-ins, for the start command to print. Only a demo installation has any. */
export const GET: RequestHandler = async () => {
  if (!isDemo()) error(404, 'There is nothing at this address.');
  const { demoUsers } = await import('@rigid-rule/demo');
  return json(demoUsers);
};

import { endSession } from '$lib/server/auth/session-cookie.ts';
import { endStreamsOfEndedSessions } from '$lib/server/event-stream.ts';
import type { RequestHandler } from './$types';

export const POST: RequestHandler = async ({ cookies }) => {
  await endSession(cookies);
  await endStreamsOfEndedSessions();
  // What the browser was told to keep, as the rules of a release, it keeps for who is signed in.
  return new Response(null, { status: 303, headers: { location: '/sign-in', 'clear-site-data': '"cache"' } });
};

import { redirect } from '@sveltejs/kit';
import { endSession } from '$lib/server/auth/session-cookie.ts';
import { endStreamsOfEndedSessions } from '$lib/server/event-stream.ts';
import type { RequestHandler } from './$types';

export const POST: RequestHandler = async ({ cookies }) => {
  await endSession(cookies);
  await endStreamsOfEndedSessions();
  redirect(303, '/sign-in');
};

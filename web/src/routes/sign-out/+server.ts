import { redirect } from '@sveltejs/kit';
import { digestOf } from '$lib/server/auth/secret.ts';
import { sessionCookie } from '$lib/server/auth/session-cookie.ts';
import { deleteSession } from '$lib/server/db/sessions.ts';
import type { RequestHandler } from './$types';

export const POST: RequestHandler = async ({ cookies }) => {
  const token = cookies.get(sessionCookie);
  if (token) await deleteSession(digestOf(token));
  cookies.delete(sessionCookie, { path: '/' });
  redirect(303, '/sign-in');
};

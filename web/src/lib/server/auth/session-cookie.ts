import type { Cookies, RequestEvent } from '@sveltejs/kit';
import { insertAudit } from '../db/audit.ts';
import { deleteSession, insertSession, sessionDays } from '../db/sessions.ts';
import { createSecret, digestOf } from './secret.ts';

export const sessionCookie = 'rigid_rule_session';
const longestAgent = 200;

/** Begins a session; one that the browser had before ends. */
export async function beginSession(event: RequestEvent, userId: number): Promise<void> {
  const { cookies, url, request } = event;
  const { secret, digest } = createSecret();
  const former = cookies.get(sessionCookie);
  if (former) await deleteSession(digestOf(former));
  const place = event.getClientAddress();
  const agent = (request.headers.get('user-agent') ?? '').slice(0, longestAgent);
  await insertSession(digest, userId, { place, agent });
  cookies.set(sessionCookie, secret, {
    path: '/',
    httpOnly: true,
    sameSite: 'lax',
    secure: url.protocol === 'https:',
    maxAge: sessionDays * 24 * 3600,
  });
  await insertAudit('signed in', userId, { place });
}

export async function endSession(cookies: Cookies): Promise<void> {
  const secret = cookies.get(sessionCookie);
  const user = secret ? await deleteSession(digestOf(secret)) : undefined;
  if (user !== undefined) await insertAudit('signed out', user, {});
  cookies.delete(sessionCookie, { path: '/' });
}

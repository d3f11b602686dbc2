import type { Cookies } from '@sveltejs/kit';
import { insertSession, sessionDays } from '../db/sessions.ts';
import { createSecret } from './secret.ts';

export const sessionCookie = 'rigid_rule_session';

export async function beginSession(cookies: Cookies, userId: number, url: URL): Promise<void> {
  const { secret, digest } = createSecret();
  await insertSession(digest, userId);
  cookies.set(sessionCookie, secret, {
    path: '/',
    httpOnly: true,
    sameSite: 'lax',
    secure: url.protocol === 'https:',
    maxAge: sessionDays * 24 * 3600,
  });
}

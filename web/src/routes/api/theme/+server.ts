import { string, object } from 'yup';
import { readJson } from '$lib/server/body.ts';
import type { RequestHandler } from './$types';

const choice = object({ theme: string().oneOf(['light', 'dark', 'system']).required() });
const year = 365 * 24 * 3600;

/** Remembers the theme for this browser. Needs no role: it concerns nobody else. */
export const POST: RequestHandler = async ({ request, cookies, url }) => {
  const { theme } = await readJson(request, choice);
  const options = { path: '/', httpOnly: true, sameSite: 'lax', secure: url.protocol === 'https:' } as const;
  if (theme === 'system') cookies.delete('theme', options);
  else cookies.set('theme', theme, { ...options, maxAge: year });
  return new Response(null, { status: 204 });
};

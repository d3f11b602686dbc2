import { dev } from '$app/environment';
import { error, redirect, type Handle, type HandleServerError, type ServerInit } from '@sveltejs/kit';
import { sequence } from '@sveltejs/kit/hooks';
import { sessionCookie } from '$lib/server/auth/session-cookie.ts';
import { digestOf } from '$lib/server/auth/secret.ts';
import { BusyError } from '$lib/server/db/transaction.ts';
import { migrate } from '$lib/server/db/migrate.ts';
import { closePool } from '$lib/server/db/pool.ts';
import { findSessionUser } from '$lib/server/db/sessions.ts';
import { stopHearing } from '$lib/server/draft-events.ts';
import { loadDemoWhenNew } from '$lib/server/demo.ts';
import { runDependants } from '$lib/server/entry-points/dependants.ts';
import { log } from '$lib/server/log.ts';

export const init: ServerInit = async () => {
  await migrate();
  await loadDemoWhenNew();
  // What was queued before the last stop.
  void runDependants();
  process.on('rigid-rule:stopping', () => void stopHearing());
  process.on('sveltekit:shutdown', () => void closePool());
};

/** Open to visitors: signing in, the health check, and the API, which has tokens of its own. */
const isOpen = (path: string): boolean =>
  path === '/sign-in' || path === '/sign-in/demo' || path === '/healthz' || path.startsWith('/api/v1/');

/** Browsers name the page that a request comes from: one from elsewhere never acts, whatever its content type. */
const sameOrigin: Handle = ({ event, resolve }) => {
  const { method, headers } = event.request;
  const reads = method === 'GET' || method === 'HEAD' || method === 'OPTIONS';
  if (!reads && !event.url.pathname.startsWith('/api/v1/') && headers.get('origin') !== event.url.origin)
    error(403, 'This request came from another site.');
  return resolve(event);
};

const session: Handle = async ({ event, resolve }) => {
  const token = event.cookies.get(sessionCookie);
  event.locals.user = token ? await findSessionUser(digestOf(token)) : undefined;
  const path = event.url.pathname;
  if (!event.locals.user && !isOpen(path) && event.route.id !== null) {
    if (path.startsWith('/api/')) error(401, 'Your session has ended. Sign in again; nothing here is lost.');
    const next = path + event.url.search;
    redirect(303, next === '/' ? '/sign-in' : `/sign-in?next=${encodeURIComponent(next)}`);
  }
  return resolve(event);
};

/** The formula editor makes its style sheet as it runs: that one is let in by the page's nonce. */
function allowEditorStyles(given: Headers): void {
  const policy = given.get('content-security-policy');
  // In development Vite brings its styles inline, without a nonce.
  const nonce = !dev && policy && /'nonce-[^']+'/.exec(policy)?.[0];
  if (nonce) given.set('content-security-policy', policy.replace(/style-src (?!.*style-src )/, `style-src ${nonce} `));
}

const headers: Handle = async ({ event, resolve }) => {
  const theme = event.cookies.get('theme');
  event.locals.theme = theme === 'light' || theme === 'dark' ? theme : undefined;
  const attribute = event.locals.theme ? `data-theme="${event.locals.theme}"` : '';
  const response = await resolve(event, {
    transformPageChunk: ({ html }) => html.replace('%rigid.theme%', attribute),
  });
  allowEditorStyles(response.headers);
  response.headers.set('x-content-type-options', 'nosniff');
  response.headers.set('referrer-policy', 'same-origin');
  response.headers.set('cross-origin-opener-policy', 'same-origin');
  if (!response.headers.has('cache-control')) response.headers.set('cache-control', 'private, no-cache');
  return response;
};

export const handle = sequence(headers, sameOrigin, session);

export const handleError: HandleServerError = ({ error: thrown, event, status, message }) => {
  if (status === 404) return { message: 'There is nothing at this address.' };
  log.error({ err: thrown, path: event.url.pathname, status }, 'request failed');
  if (thrown instanceof BusyError) return { message: thrown.message };
  return { message: status < 500 ? message : 'Something went wrong on our side. What was saved before is kept.' };
};

import { dev } from '$app/environment';
import {
  error,
  json,
  redirect,
  type Handle,
  type HandleServerError,
  type RequestEvent,
  type ServerInit,
} from '@sveltejs/kit';
import { sequence } from '@sveltejs/kit/hooks';
import { sessionCookie } from '$lib/server/auth/session-cookie.ts';
import { digestOf } from '$lib/server/auth/secret.ts';
import { openSetup } from '$lib/server/auth/setup-token.ts';
import { migrate } from '$lib/server/db/migrate.ts';
import { closePool } from '$lib/server/db/pool.ts';
import { isUnstorable, unavailabilityOf } from '$lib/server/db/unavailable.ts';
import { findSessionUser } from '$lib/server/db/sessions.ts';
import { hasUsers } from '$lib/server/db/users.ts';
import { CorruptReleaseError } from '$lib/server/db/releases.ts';
import { stopHearing } from '$lib/server/draft-events.ts';
import { beginDraftWhenNew } from '$lib/server/first-draft.ts';
import { loadDemoWhenNew } from '$lib/server/demo.ts';
import { problem } from '$lib/server/entry-points/problem.ts';
import { startQueue, stopQueue } from '$lib/server/jobs/queue.ts';
import { log } from '$lib/server/log.ts';
import { stopListening } from '$lib/server/db/notices.ts';
import { closeThreads } from '$lib/server/readiness.ts';
import { prepareSearches } from '$lib/server/release.ts';
import { hearComingReleases } from '$lib/server/release-warming.ts';
import { liveRelease } from '$lib/server/rulebook.ts';

export const init: ServerInit = async () => {
  await migrate();
  await loadDemoWhenNew();
  await beginDraftWhenNew();
  await prepareSearches((await liveRelease()).program.rulebook);
  if (!(await hasUsers())) tellWayIn(openSetup());
  await hearComingReleases();
  if (process.env['RIGID_RULE_QUEUE'] !== 'off') await startQueue();
  let queueStopped = Promise.resolve();
  process.on('rigid-rule:stopping', () => {
    stopHearing();
    void stopListening();
    queueStopped = stopQueue();
  });
  process.on('sveltekit:shutdown', () => void Promise.allSettled([queueStopped, closeThreads()]).finally(closePool));
};

/** Told where the application was started, and nowhere else. */
function tellWayIn(path: string): void {
  const origin = process.env['ORIGIN'] ?? `http://${process.env['HOST'] ?? '127.0.0.1'}:${process.env['PORT'] ?? ''}`;
  process.stdout.write(`\n  Nobody can sign in yet. The first person begins at ${origin}${path}\n\n`);
}

/** Open to visitors: signing in, the health check, and the API, which has tokens of its own. */
const isOpen = (path: string): boolean =>
  path === '/sign-in' ||
  path === '/sign-in/demo' ||
  path === '/setup' ||
  path === '/healthz' ||
  path === '/readyz' ||
  path.startsWith('/api/v1/');

/** Browsers name the page that a request comes from: one from elsewhere never acts, whatever its content type. */
const sameOrigin: Handle = ({ event, resolve }) => {
  const { method, headers } = event.request;
  const reads = method === 'GET' || method === 'HEAD' || method === 'OPTIONS';
  if (!reads && !event.url.pathname.startsWith('/api/v1/') && headers.get('origin') !== event.url.origin)
    error(403, 'This request came from another site.');
  return resolve(event);
};

/** Bytes that a form of signing in may have: nobody without a session sends more. */
const mostBeforeSignIn = 16_384;

const smallBeforeSignIn: Handle = ({ event, resolve }) => {
  const { headers: given, method } = event.request;
  const open = /^\/(sign-in|setup)(\/|$)/.test(event.url.pathname);
  const length = Number(given.get('content-length') ?? Infinity);
  if (open && method === 'POST' && !(length <= mostBeforeSignIn)) error(413, 'This is more than can be sent at once.');
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

const everyAnswer = {
  'x-content-type-options': 'nosniff',
  'referrer-policy': 'same-origin',
  'cross-origin-opener-policy': 'same-origin',
} as const;
/** For answers that are no pages: should a browser show one, it runs nothing. */
const noContent = "default-src 'none'; frame-ancestors 'none'";
const oneYear = 31_536_000;

const headers: Handle = async ({ event, resolve }) => {
  const theme = event.cookies.get('theme');
  event.locals.theme = theme === 'light' || theme === 'dark' ? theme : undefined;
  const attribute = event.locals.theme ? `data-theme="${event.locals.theme}"` : '';
  const response = await resolve(event, {
    transformPageChunk: ({ html }) => html.replace('%rigid.theme%', attribute),
  });
  allowEditorStyles(response.headers);
  for (const [name, value] of Object.entries(everyAnswer)) response.headers.set(name, value);
  if (!response.headers.has('content-security-policy')) response.headers.set('content-security-policy', noContent);
  if (event.url.protocol === 'https:') response.headers.set('strict-transport-security', `max-age=${oneYear}`);
  if (!response.headers.has('cache-control')) response.headers.set('cache-control', 'private, no-cache');
  return response;
};

const unstorable = 'This holds characters or numbers that cannot be stored. Nothing was changed.';

/** While the database is away every answer says so, and when to try again; nothing else is wrong with the request. */
const unavailable: Handle = async ({ event, resolve }) => {
  const response = asProblem(event, await answerOf(event, resolve));
  if (event.locals.unstorable && response.status >= 500)
    return new Response(response.body, { status: 400, headers: response.headers });
  const away = event.locals.unavailable;
  if (!away || response.status < 500) return response;
  const given = new Headers(response.headers);
  given.set('retry-after', String(away.retryAfter));
  return new Response(response.body, { status: 503, headers: given });
};

/** Programs are told of every error in one form, also of those that never came to a route of theirs. */
function asProblem({ url }: RequestEvent, response: Response): Response {
  const { status, headers: given } = response;
  if (!url.pathname.startsWith('/api/v1/') || status < 400 || given.get('content-type')?.includes('problem+json'))
    return response;
  return problem(status, details[status] ?? 'The request was not taken.');
}

const details: Readonly<Record<number, string>> = {
  404: 'There is nothing at this address.',
  405: 'This address does not take that method.',
  413: 'This is more than can be sent at once.',
  500: 'Something went wrong on our side. What was saved before is kept.',
};

/** What hooks throw is not caught by the framework as what routes throw is. */
async function answerOf(event: RequestEvent, resolve: Parameters<Handle>[0]['resolve']): Promise<Response> {
  try {
    return await resolve(event);
  } catch (e) {
    const away = unavailabilityOf(e);
    if (!away) throw e;
    log.error({ err: e, path: event.url.pathname }, 'request failed');
    event.locals.unavailable = away;
    if (event.url.pathname.startsWith('/api/v1/')) return problem(503, away.message);
    if (event.url.pathname.startsWith('/api/')) return json({ message: away.message }, { status: 503 });
    return new Response(`${away.message}\n`, { status: 503, headers: { 'content-type': 'text/plain; charset=utf-8' } });
  }
}

export const handle = sequence(unavailable, headers, sameOrigin, smallBeforeSignIn, session);

export const handleError: HandleServerError = ({ error: thrown, event, status, message }) => {
  if (status === 404) return { message: 'There is nothing at this address.' };
  const away = unavailabilityOf(thrown);
  if (away) event.locals.unavailable = away;
  event.locals.unstorable = isUnstorable(thrown);
  if (event.locals.unstorable) return { message: unstorable };
  if (status >= 500) log.error({ err: thrown, path: event.url.pathname, status }, 'request failed');
  if (event.locals.unavailable) return { message: event.locals.unavailable.message };
  if (thrown instanceof CorruptReleaseError) return { message: thrown.message };
  return { message: status < 500 ? message : 'Something went wrong on our side. What was saved before is kept.' };
};

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
import { ownerHeader, ownerParameter } from '$lib/page-owner.ts';
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
import { jobsAskedFor } from '$lib/server/db/follow-ups.ts';
import { startQueue, stopQueue } from '$lib/server/jobs/queue.ts';
import { log } from '$lib/server/log.ts';
import { stopListening } from '$lib/server/db/notices.ts';
import { closeThreads } from '$lib/server/readiness.ts';
import { prepareSearches } from '$lib/server/release.ts';
import { hearComingReleases } from '$lib/server/release-warming.ts';
import { asRequest } from '$lib/server/requests-first.ts';
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
  process.on(
    'sveltekit:shutdown',
    () => void Promise.allSettled([queueStopped, jobsAskedFor(), closeThreads()]).finally(closePool),
  );
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
  path === '/api/problems' ||
  path.startsWith('/api/v1/');

const isReading = (method: string): boolean => method === 'GET' || method === 'HEAD' || method === 'OPTIONS';

/** Browsers name the page that a request comes from: one from elsewhere never acts, whatever its content type. */
function requireSameOrigin({ request: { method, headers }, url }: RequestEvent): void {
  if (!isReading(method) && !url.pathname.startsWith('/api/v1/') && headers.get('origin') !== url.origin)
    error(403, 'This request came from another site.');
}

/** Bytes that a form of signing in may have: nobody without a session sends more. */
const mostBeforeSignIn = 16_384;

function requireSmallBeforeSignIn({ request: { method, headers }, url }: RequestEvent): void {
  if (method !== 'POST' || !/^\/(sign-in|setup)(\/|$)/.test(url.pathname)) return;
  const length = Number(headers.get('content-length') ?? Infinity);
  if (!(length <= mostBeforeSignIn)) error(413, 'This is more than can be sent at once.');
}

async function requireSession({ cookies, locals, url, route }: RequestEvent): Promise<void> {
  const token = cookies.get(sessionCookie);
  locals.user = token ? await findSessionUser(digestOf(token)) : undefined;
  const path = url.pathname;
  if (locals.user || isOpen(path) || route.id === null) return;
  if (path.startsWith('/api/')) error(401, 'Your session has ended. Sign in again; nothing here is lost.');
  const next = path + url.search;
  redirect(303, next === '/' ? '/sign-in' : `/sign-in?next=${encodeURIComponent(next)}`);
}

/** Of use to whoever is signed in: asking who that is, and signing out. */
const isForAnybody = (path: string): boolean => isOpen(path) || path === '/sign-out' || path === '/api/session';

/** What the page of one person asks for is not done in the name of another. */
function requirePageOwner({ request: { headers, method }, locals: { user }, route, url }: RequestEvent): void {
  if (!user || isForAnybody(url.pathname) || route.id === null) return;
  const named = headers.get(ownerHeader) ?? (isReading(method) ? null : url.searchParams.get(ownerParameter));
  if (named === null && isReading(method)) return;
  // As of a session that ended: what was edited is kept, and sent once its page is loaded anew.
  if (named === null) error(401, 'This page does not say whose it is: it is of an earlier version. Load it anew.');
  if (named !== String(user.id))
    error(401, 'Somebody else has signed in here since this page was opened. Load it anew.');
}

/** The formula editor makes its style sheet as it runs: that one is let in by the page's nonce. */
function allowEditorStyles(given: Headers): void {
  const policy = given.get('content-security-policy');
  // In development Vite brings its styles inline, without a nonce.
  const nonce = !dev && policy && /'nonce-[^']+'/.exec(policy)?.[0];
  if (nonce) given.set('content-security-policy', policy.replace(/style-src (?!.*style-src )/, `style-src ${nonce} `));
}

/** Pages are sent in the theme that was chosen. What all answers carry beside is the HTTP server's: `answer-headers.mjs`. */
async function answer({ event, resolve }: Parameters<Handle>[0]): Promise<Response> {
  const theme = event.cookies.get('theme');
  event.locals.theme = theme === 'light' || theme === 'dark' ? theme : undefined;
  const attribute = event.locals.theme ? `data-theme="${event.locals.theme}"` : '';
  const response = await resolve(event, {
    transformPageChunk: ({ html }) => html.replace('%rigid.theme%', attribute),
  });
  allowEditorStyles(response.headers);
  return response;
}

/** Programs are told of every error in one form, also of those that never came to a route of theirs. */
function asProblem({ url }: RequestEvent, response: Response): Response {
  const { status, headers: given } = response;
  if (!url.pathname.startsWith('/api/v1/') || status < 400 || given.get('content-type')?.includes('problem+json'))
    return response;
  const allow = given.get('allow');
  return problem(status, details[status] ?? 'The request was not taken.', { headers: allow ? { allow } : {} });
}

const details: Readonly<Record<number, string>> = {
  404: 'There is nothing at this address.',
  405: 'This address does not take that method.',
  413: 'This is more than can be sent at once.',
  500: 'Something went wrong on our side. What was saved before is kept.',
};

/** What hooks throw is not caught by the framework as what routes throw is. */
function answerWhileAway({ locals, request, url }: RequestEvent, thrown: unknown): Response {
  const away = unavailabilityOf(thrown);
  if (!away) throw thrown;
  log.error({ err: thrown, path: url.pathname }, 'request failed');
  locals.unavailable = away;
  if (url.pathname.startsWith('/api/v1/')) return problem(503, away.message);
  const byScript = url.pathname.startsWith('/api/') || request.headers.has('x-sveltekit-action');
  if (byScript) return json({ message: away.message }, { status: 503 });
  return new Response(`${away.message}\n`, { status: 503, headers: { 'content-type': 'text/plain; charset=utf-8' } });
}

const unstorable = 'This holds characters or numbers that cannot be stored. Nothing was changed.';

/** While the database is away every answer says so, and when to try again; nothing else is wrong with the request. */
function blamed({ locals }: RequestEvent, response: Response): Response {
  if (response.status < 500) return response;
  if (locals.unstorable) return new Response(response.body, { status: 400, headers: response.headers });
  if (!locals.unavailable) return response;
  const given = new Headers(response.headers);
  given.set('retry-after', String(locals.unavailable.retryAfter));
  return new Response(response.body, { status: 503, headers: given });
}

/** One function: the framework's way to put several in a row copies the event and asks for more promises at each. */
export const handle: Handle = (asked) => asRequest(() => answerChecked(asked));

async function answerChecked(asked: Parameters<Handle>[0]): Promise<Response> {
  const { event } = asked;
  let response: Response;
  try {
    requireSameOrigin(event);
    requireSmallBeforeSignIn(event);
    await requireSession(event);
    requirePageOwner(event);
    response = await answer(asked);
  } catch (e) {
    response = answerWhileAway(event, e);
  }
  return blamed(event, asProblem(event, response));
}

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

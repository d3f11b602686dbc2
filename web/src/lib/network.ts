/** How pages ask the server, and whether something failed since it could not be reached. */
import { ownerHeader } from './page-owner.ts';

/** What browsers, and Vite, say of a request or a part of the application that never came: no standard words, so all of theirs. */
const said = /failed to fetch|load failed|network ?error|error loading dynamically imported module|unable to preload/i;

/** Addresses of pages that could not be had: the framework tells of them in no other way. */
export const missedPages = new Set<string>();

export const isUnreached = (thrown: unknown): boolean =>
  thrown instanceof UnreachedError || (thrown instanceof Error && said.test(thrown.message));

/** Milliseconds that an answer may take, beside what sending takes. */
const longest = 30_000;
/** Bytes that the slowest network sends in a millisecond. */
const slowest = 20;

/** Of the session, of rights, and that the server cannot answer now: only the server knows in what way. */
const toldByServer: readonly number[] = [401, 403, 503];

/** Why the server did not do what it was asked, in its words where they are for the reader. */
export async function whyNot(answer: Response, otherwise: string): Promise<Error> {
  const message = toldByServer.includes(answer.status)
    ? ((await answer.json().catch(() => ({}))) as { readonly message?: unknown }).message
    : undefined;
  return new Error(typeof message === 'string' ? message : otherwise);
}

type Asked = Omit<RequestInit, 'headers' | 'body'> & {
  readonly headers?: Readonly<Record<string, string>>;
  readonly body?: string;
};

let owner: number | undefined;

/** From now on requests say that they come from the page of this person, by id. */
export function askAs(user: number): void {
  owner = user;
}

/** No answer came. What was asked may have been done all the same. */
export class UnreachedError extends Error {
  constructor(cause?: unknown) {
    super('The network is away.', { cause });
  }
}

function unreached(thrown: unknown): never {
  throw isUnreached(thrown) && !(thrown instanceof UnreachedError) ? new UnreachedError(thrown) : thrown;
}

/** As `fetch`, for what takes the server long. @throws {UnreachedError}; what `fetch` throws of what it is given. */
export const askPatiently = (address: string, { headers, ...init }: Asked = {}): Promise<Response> =>
  fetch(address, {
    ...init,
    headers: { ...headers, ...(owner === undefined ? {} : { [ownerHeader]: String(owner) }) },
  }).catch(unreached);

/**
 * The same, but that it does not wait for ever for an answer to begin: a network that went away without a word is away.
 * @throws {UnreachedError}; what `fetch` throws of what it is given.
 */
export async function ask(address: string, asked: Asked = {}): Promise<Response> {
  const waiting = new AbortController();
  const timer = setTimeout(() => waiting.abort(new UnreachedError()), longest + (asked.body?.length ?? 0) / slowest);
  return askPatiently(address, { ...asked, signal: waiting.signal }).finally(() => clearTimeout(timer));
}

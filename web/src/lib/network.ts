/** Whether something failed since the server could not be reached. */

/** What browsers, and Vite, say of a request or a part of the application that never came: no standard words, so all of theirs. */
const said = /failed to fetch|load failed|networkerror|error loading dynamically imported module|unable to preload/i;

/** Addresses of pages that could not be had: the framework tells of them in no other way. */
export const missedPages = new Set<string>();

export const isUnreached = (thrown: unknown): boolean =>
  thrown instanceof Error && (thrown.name === 'TimeoutError' || said.test(thrown.message));

/** Milliseconds that an answer may take, beside what sending takes. */
const longest = 30_000;
/** Bytes that the slowest network sends in a millisecond. */
const slowest = 20;

/**
 * As `fetch`, but that it does not wait for ever for an answer to begin: a network that went away without a word is away.
 * Not for what takes the server long. @throws {DOMException} `TimeoutError`; what `fetch` throws.
 */
export async function ask(address: string, init: RequestInit & { readonly body?: string } = {}): Promise<Response> {
  const waiting = new AbortController();
  const timer = setTimeout(
    () => waiting.abort(new DOMException('No answer came.', 'TimeoutError')),
    longest + (init.body?.length ?? 0) / slowest,
  );
  return fetch(address, { ...init, signal: waiting.signal }).finally(() => clearTimeout(timer));
}

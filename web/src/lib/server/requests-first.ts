/** Requests come first: work that nobody waits for is put off until none has been under way for a moment. */

/** Milliseconds without a request that count as quiet: whoever sends one after another leaves less between them. */
const moment = 10;

const sleep = (milliseconds: number) => new Promise((done) => setTimeout(done, milliseconds));

let underWay = 0;
let lastEnded = -Infinity;

/** Runs the answer to a request; what is streamed after it is none. */
export async function asRequest<T>(answer: () => Promise<T>): Promise<T> {
  underWay++;
  try {
    return await answer();
  } finally {
    underWay--;
    lastEnded = performance.now();
  }
}

/**
 * Resolves once no request is under way in this process.
 * @param longest Milliseconds after which it resolves all the same: nothing waits for ever on a busy server.
 */
export async function quietMoment(longest: number): Promise<void> {
  const until = performance.now() + longest;
  for (;;) {
    const now = performance.now();
    const wait = underWay > 0 ? moment : lastEnded + moment - now;
    if (wait <= 0 || now >= until) return;
    await sleep(Math.min(wait, until - now));
  }
}

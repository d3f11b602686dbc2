/** Workers that end by themselves: their script could not be had, or they took more memory than the browser gives. */

/**
 * What holds each question to a worker against its end. By themselves those who asked would wait for ever.
 * @throws where the worker ended before it answered.
 */
export function untilItEnds(worker: Pick<Worker, 'addEventListener'>): <T>(asked: Promise<T>) => Promise<T> {
  const ended = new Promise<never>((_, fail) =>
    worker.addEventListener('error', () => fail(new Error('The worker ended.')), { once: true }),
  );
  ended.catch(() => undefined);
  return (asked) => Promise.race([asked, ended]);
}

/** Milliseconds: however busy the page is, what waits goes on. */
const longestPause = 200;

/** Calls `work` when nothing else is to be done; gives what calls it off. */
export function whenIdle(work: () => void): () => void {
  // Not every browser tells when it is idle.
  if (typeof requestIdleCallback === 'undefined') {
    const frame = requestAnimationFrame(work);
    return () => cancelAnimationFrame(frame);
  }
  const asked = requestIdleCallback(work, { timeout: longestPause });
  return () => cancelIdleCallback(asked);
}

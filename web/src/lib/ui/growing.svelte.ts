/**
 * A long list as it is drawn: its beginning at once, the rest in steps while there is nothing else to do, so that no list
 * holds up what somebody does meanwhile. For lists whose lines are all to be there in the end, for searching the page and for readers; what is
 * longer than some hundreds is windowed.
 */
const atOnce = 60;
/** Milliseconds: however busy the page is, the list goes on. */
const longestPause = 200;

/** Calls `work` when nothing else is to be done; gives what calls it off. */
function whenIdle(work: () => void): () => void {
  // Not every browser tells when it is idle.
  if (typeof requestIdleCallback === 'undefined') {
    const frame = requestAnimationFrame(work);
    return () => cancelAnimationFrame(frame);
  }
  const asked = requestIdleCallback(work, { timeout: longestPause });
  return () => cancelIdleCallback(asked);
}

export class Growing<T> {
  private count = $state(atOnce);
  readonly items: readonly T[] = $derived.by(() => {
    const list = this.list();
    return list.length <= this.count ? list : list.slice(0, this.count);
  });

  /** To be made while a component is. */
  constructor(private readonly list: () => readonly T[]) {
    $effect(() => {
      if (this.count >= this.list().length) return;
      return whenIdle(() => (this.count += atOnce));
    });
  }
}

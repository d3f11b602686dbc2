import { whenIdle } from './when-idle.ts';

/**
 * A long list as it is drawn: its beginning at once, the rest in steps while there is nothing else to do, so that no list
 * holds up what somebody does meanwhile. For lists whose lines are all to be there in the end, for searching the page and
 * for readers; what is longer than some hundreds is windowed.
 */
const atOnce = 60;

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

/** Nobody is led from their work: not to a page that cannot be shown, nor away from what would be lost without being asked. */
import { beforeNavigate, goto, preloadData } from '$app/navigation';
import { missedPages } from '$lib/network.ts';
import type { Offers } from './acts.svelte.ts';

/** To be called while a layout begins. `stays`: called where a way was not gone. */
export function stayWhileAway(offers: Offers, stays: () => void): void {
  /** The way that was found to be open: it is gone now, by the history some time after it was asked. */
  let open: string | undefined;
  /** A way that may be gone: where this page cannot show it, the browser opens it and asks no more. */
  let mayLeave = false;
  beforeNavigate((way) => {
    const to = way.to?.url;
    const isOpen = to !== undefined && to.href === open;
    open = undefined;
    if (way.type === 'leave') {
      // The browser itself asks, on its way out of the application.
      if (!mayLeave && !offers.mayLeave(way)) way.cancel();
      return;
    }
    if (!isOpen && !offers.mayLeave(way)) return way.cancel();
    mayLeave = true;
    way.complete.then(
      () => (mayLeave = false),
      () => (mayLeave = false),
    );
    if (isOpen || navigator.onLine || way.willUnload || !to) return;
    way.cancel();
    const takenBack = way.type === 'popstate' ? nextPopState() : undefined;
    void (async () => {
      // Some pages need nothing of the server, and others are at hand.
      // Others may be missed meanwhile, by a pointer that passes over their links.
      missedPages.delete(to.href);
      await preloadData(to.href);
      if (missedPages.has(to.href)) return stays();
      open = to.href;
      if (way.type === 'popstate') {
        // A way through the history that is not gone is taken back by another one: two at once would come to none.
        await takenBack;
        history.go(way.delta);
      } else await goto(to);
    })();
  });
}

const nextPopState = (): Promise<unknown> => new Promise((done) => addEventListener('popstate', done, { once: true }));

/** While the network is away nobody is led from their work to a page that cannot be shown. */
import { beforeNavigate, goto, preloadData } from '$app/navigation';
import { missed } from '$lib/network.ts';

/** To be called while a layout begins. `stays`: called where a way was not gone. */
export function stayWhileAway(stays: () => void): void {
  let known: string | undefined;
  beforeNavigate((way) => {
    const to = way.to?.url;
    // The way that was found to be open is gone now, by the history some time after it was asked.
    const isOpen = to?.href === known;
    known = undefined;
    if (isOpen || navigator.onLine || way.willUnload || !to) return;
    way.cancel();
    void (async () => {
      // Some pages need nothing of the server, and others are at hand.
      const { pages } = missed;
      await preloadData(to.href);
      if (missed.pages > pages) return stays();
      known = to.href;
      if (way.type === 'popstate') history.go(way.delta);
      else await goto(to);
    })();
  });
}

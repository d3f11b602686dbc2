/** The host of the page: grows as rulebooks that need more are opened. */
import { hostNeeds, type HostNeed } from '@rigid-rule/core/compile';
import type { Rulebook } from '@rigid-rule/core/document';
import type { Host } from '@rigid-rule/core/language';
import { hostLoaders, plainHost } from './host-loading.ts';

class BrowserHost {
  /** All that has been loaded; programs compiled before are compiled again when it grows. */
  current = $state.raw<Host>(plainHost);
  private readonly asked = new Set<HostNeed>();

  /** Begins to load what a rulebook needs and is not there yet. */
  load(rulebook: Pick<Rulebook, 'rules' | 'tables' | 'claims'>): void {
    for (const need of hostNeeds(rulebook)) {
      if (this.asked.has(need)) continue;
      this.asked.add(need);
      void hostLoaders[need]().then((more) => (this.current = { ...this.current, ...more }));
    }
  }
}

export const browserHost = new BrowserHost();

/** What formulas ask of the browser besides the clock: loaded where a rulebook uses it, since it is large. */
import { zoneOffset } from '@rigid-rule/zones';
import { hostNeeds, type Host, type HostNeed, type Rulebook } from '@rigid-rule/core';

const loaders: Readonly<Record<HostNeed, () => Promise<Host>>> = {
  pattern: async () => ({ pattern: (await import('@rigid-rule/patterns')).createPatterns() }),
  phone: async () => ({ phone: (await import('@rigid-rule/phone-numbers')).phoneNumber }),
};

class BrowserHost {
  /** All that has been loaded; programs compiled before are compiled again when it grows. */
  current = $state.raw<Host>({ zoneOffset });
  private readonly asked = new Set<HostNeed>();

  /** Begins to load what a rulebook needs and is not there yet. */
  load(rulebook: Pick<Rulebook, 'rules'>): void {
    for (const need of hostNeeds(rulebook)) {
      if (this.asked.has(need)) continue;
      this.asked.add(need);
      void loaders[need]().then((more) => (this.current = { ...this.current, ...more }));
    }
  }
}

export const browserHost = new BrowserHost();

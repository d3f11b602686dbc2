import type { KeyAct } from '$lib/ui/keys.ts';
import { getContext, setContext, untrack } from 'svelte';

/** Something that the palette can find: a place to go or an act. */
export interface PaletteEntry {
  readonly group: string;
  readonly name: string;
  readonly hint?: string;
  readonly href?: string;
  readonly run?: () => void;
}

/** What the screens on show offer: acts by key, and entries of the palette. Screens add theirs while they are shown. */
export class Offers {
  keys = $state.raw<readonly KeyAct[]>([]);
  entries = $state.raw<readonly PaletteEntry[]>([]);
  status = $state('');

  /** Offers until the returned function is called. */
  offer(keys: readonly KeyAct[], entries: readonly PaletteEntry[]): () => void {
    untrack(() => {
      this.keys = [...this.keys, ...keys];
      this.entries = [...this.entries, ...entries];
    });
    return () => {
      this.keys = this.keys.filter((k) => !keys.includes(k));
      this.entries = this.entries.filter((e) => !entries.includes(e));
    };
  }
}

const key = Symbol('offers');
export const provideOffers = (): Offers => setContext(key, new Offers());
export const useOffers = (): Offers => getContext<Offers>(key);

import type { KeyAct } from '$lib/ui/keys.ts';
import type { BeforeNavigate } from '@sveltejs/kit';
import { getContext, setContext, untrack } from 'svelte';

/** Something that the palette can find: a place to go or an act. */
export interface PaletteEntry {
  readonly group: string;
  readonly name: string;
  readonly hint?: string;
  readonly href?: string;
  readonly run?: () => void;
}

/** A pane by its mark, and what people call it. */
export interface Skip {
  readonly name: string;
  readonly pane: string;
}

/** What the bar and the palette say of the draft. */
export interface DraftAtHand {
  /** How many things it changes about what is live; absent where nothing was saved from here. */
  readonly changes?: number;
  readonly types: readonly { readonly key: string; readonly name: string; readonly plural: string }[];
  readonly organisation: { readonly zone: string; readonly currency: string; readonly locale: string };
}

/** Whether a way may be gone, as far as what it leaves behind is concerned; asks whoever is there, if need be. */
type Guard = (way: BeforeNavigate) => boolean;

/** What the screens on show offer: acts by key, and entries of the palette. Screens add theirs while they are shown. */
export class Offers {
  keys = $state.raw<readonly KeyAct[]>([]);
  private shown = $state.raw<readonly PaletteEntry[]>([]);
  private lists = $state.raw<readonly (() => readonly PaletteEntry[])[]>([]);
  /** Worked out while somebody looks at them. */
  readonly entries: readonly PaletteEntry[] = $derived([...this.shown, ...this.lists.flatMap((list) => list())]);
  status = $state('');
  /** The draft as it stands in this page, which may know more than the page was loaded with. */
  draft = $state.raw<DraftAtHand>();
  /** Panes of the screen that can be gone to at once. */
  skips = $state.raw<readonly Skip[]>([]);

  private skipping: readonly Skip[] = [];
  skipTo(skips: readonly Skip[]): () => void {
    this.skips = this.skipping = skips;
    return () => {
      if (this.skipping === skips) this.skips = this.skipping = [];
    };
  }

  /**
   * What is offered now, one entry for each screen or part of one. Not state: the end of an effect reads state as it was
   * before, and would bring back what another effect has taken away in the meantime.
   */
  private readonly given = new Set<{ readonly keys: readonly KeyAct[]; readonly entries: readonly PaletteEntry[] }>();

  private show(): void {
    const given = [...this.given];
    untrack(() => {
      this.keys = given.flatMap((g) => g.keys);
      this.shown = given.flatMap((g) => g.entries);
    });
  }

  /** Offers until the returned function is called. */
  offer(keys: readonly KeyAct[], entries: readonly PaletteEntry[]): () => void {
    const offered = { keys, entries };
    this.given.add(offered);
    this.show();
    return () => {
      this.given.delete(offered);
      this.show();
    };
  }

  private readonly guards = new Set<Guard>();

  /** Asks before what is at hand is left, until the returned function is called: once for a way, however it is gone. */
  guardLeaving(guard: Guard): () => void {
    this.guards.add(guard);
    return () => this.guards.delete(guard);
  }
  mayLeave(way: BeforeNavigate): boolean {
    return [...this.guards].every((guard) => guard(way));
  }

  /** Offers a long list, which is asked for when the palette is opened, until the returned function is called. */
  offerList(list: () => readonly PaletteEntry[]): () => void {
    this.lists = [...this.lists, list];
    return () => (this.lists = this.lists.filter((l) => l !== list));
  }
}

const key = Symbol('offers');
export const provideOffers = (): Offers => setContext(key, new Offers());
export const useOffers = (): Offers => getContext<Offers>(key);

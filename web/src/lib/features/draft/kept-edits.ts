/**
 * Edits that the server has not taken yet, in local storage: one entry for each page, so that two tabs never write over
 * each other, each held by a lock for as long as its page lives. What a page that is gone left is taken up by the next.
 */
import { uniqueId } from '$lib/unique-id.ts';
import type { Kept } from '$lib/browser-storage.ts';
import { partId, type Operation, type PartRef } from '@rigid-rule/core/document';

export interface KeptEdit {
  /** Known to the server once it was done: sent again after a closed tab, it is not done again. */
  readonly id: string;
  readonly ref: PartRef;
  readonly operations: readonly Operation[];
  readonly position?: number;
  /** What the server had of the part when the edit was made; 0: nothing. */
  readonly version: number;
  /** The part as it stood here; absent where it was taken away. */
  readonly body?: unknown;
  /** Why the server would not take it. */
  readonly refused?: string;
  /** It may have come to the server, which did not answer; what follows on it stands behind it. */
  readonly sent?: true;
}

/** Those of each part together, in their order. */
export function byPart(edits: readonly KeptEdit[]): Iterable<readonly KeptEdit[]> {
  const found = new Map<string, readonly KeptEdit[]>();
  for (const edit of edits) found.set(partId(edit.ref), [...(found.get(partId(edit.ref)) ?? []), edit]);
  return found.values();
}

/** Edits of a part that follow on each other, as one. */
export function joinedEdits(first: KeptEdit, ...more: readonly KeptEdit[]): KeptEdit {
  const last = more.at(-1);
  if (!last) return first;
  const { sent: _, ...edit } = { ...first, ...last, id: uniqueId() };
  return { ...edit, operations: [first, ...more].flatMap((e) => e.operations) };
}

export interface KeptEdits {
  keep(edits: readonly KeptEdit[]): void;
  /** What pages that are gone have left, by page; it is this page's from now on. */
  takeUp(): Promise<readonly (readonly KeptEdit[])[]>;
}

const prefix = 'rigid-rule:unsaved-edits:';

/** Rows of a table that local storage, of 5 MB, surely does not hold: it is not even written out. */
const tooManyRows = 100_000;
const isTooLong = ({ body }: KeptEdit): boolean =>
  ((body as { readonly rows?: readonly unknown[] } | undefined)?.rows?.length ?? 0) > tooManyRows;

/** Whether the page that keeps under a name is gone. */
export type IsGone = (name: string) => Promise<boolean>;

/** Where the browser has no locks, every other page counts as gone: the server does no edit twice. */
const goneByLock: IsGone = async (name) => {
  if (typeof navigator === 'undefined' || !('locks' in navigator)) return true;
  return navigator.locks.request(name, { ifAvailable: true }, (lock) => lock !== null);
};

/** `owner`: who signed in, so that nobody sends another's edits; `page`: names this page. */
export function keepIn(storage: Kept, owner: string, page: string, isGone: IsGone = goneByLock): KeptEdits {
  const own = `${prefix}${owner}:${page}`;
  if (typeof navigator !== 'undefined' && 'locks' in navigator)
    void navigator.locks.request(own, () => new Promise(() => undefined)).catch(() => undefined);
  return {
    keep(edits) {
      try {
        if (edits.length === 0) storage.removeItem(own);
        else if (!edits.some(isTooLong)) storage.setItem(own, JSON.stringify(edits));
      } catch {
        // More than local storage holds: it stays in the page until it is sent.
      }
    },
    async takeUp() {
      const names = Array.from({ length: storage.length }, (_, i) => storage.key(i) ?? '');
      const found: (readonly KeptEdit[])[] = [];
      for (const name of names.filter((n) => n.startsWith(`${prefix}${owner}:`) && n !== own)) {
        if (!(await isGone(name))) continue;
        found.push(read(storage.getItem(name)));
        storage.removeItem(name);
      }
      return found;
    },
  };
}

function read(text: string | null): readonly KeptEdit[] {
  try {
    const kept: unknown = JSON.parse(text ?? '[]');
    return Array.isArray(kept) ? (kept as readonly KeptEdit[]) : [];
  } catch {
    return [];
  }
}

/** For pages that keep nothing: on the server. */
export const keepNothing: KeptEdits = { keep: () => undefined, takeUp: () => Promise.resolve([]) };

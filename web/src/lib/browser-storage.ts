/**
 * What a browser keeps for an installation. It may keep nothing: by its settings, by what an organisation allows, in some
 * private windows; even looking there can fail. What it does not keep lasts as long as the page.
 */

export type Kept = Pick<Storage, 'getItem' | 'setItem' | 'removeItem' | 'key' | 'length'>;

function keptByThePage(): Kept {
  const items = new Map<string, string>();
  return {
    getItem: (name) => items.get(name) ?? null,
    setItem: (name, value) => void items.set(name, value),
    removeItem: (name) => void items.delete(name),
    key: (n) => [...items.keys()][n] ?? null,
    get length() {
      return items.size;
    },
  };
}

type Place = 'localStorage' | 'sessionStorage' | 'caches';

/** Undefined where there is none, or nobody may look. */
function given<P extends Place>(place: P): (typeof globalThis)[P] | undefined {
  try {
    return globalThis[place] ?? undefined;
  } catch {
    return undefined;
  }
}

const byThePage = { localStorage: keptByThePage(), sessionStorage: keptByThePage() };

/** `setItem` still throws where what the browser has for it is full. */
export const storageIn = (place: 'localStorage' | 'sessionStorage'): Kept => given(place) ?? byThePage[place];

/** Undefined where a browser keeps no answers. */
export const keptAnswers = (): CacheStorage | undefined => given('caches');

/** How somebody left things here, which is nothing to lose: not being able to keep it stops nobody. */
export const habits = {
  get: (name: string): string | null => storageIn('localStorage').getItem(name),
  set(name: string, value: string): void {
    try {
      storageIn('localStorage').setItem(name, value);
    } catch {
      // Full.
    }
  },
};

/** What can be undone and done again, kept for a browser tab over reloads. */
import type { Kept } from '$lib/browser-storage.ts';
import { noHistory, type History } from './history.ts';

export interface KeptSteps {
  load(): History;
  keep(history: History): void;
}

/** Steps and characters that are kept; what is more would slow the tab down for what hardly anybody takes back. */
const mostSteps = 100;
const mostText = 500_000;

/** `owner`: who signed in, so that nobody takes back another's steps. */
export function keepStepsIn(storage: Pick<Kept, 'getItem' | 'setItem' | 'removeItem'>, owner: string): KeptSteps {
  const name = `rigid-rule:steps:${owner}`;
  return {
    load() {
      try {
        const kept = JSON.parse(storage.getItem(name) ?? 'null') as Partial<History> | null;
        return Array.isArray(kept?.past) && Array.isArray(kept.future) ? (kept as History) : noHistory;
      } catch {
        return noHistory;
      }
    },
    keep({ past, future }) {
      const text = JSON.stringify({ past: past.slice(-mostSteps), future: future.slice(-mostSteps) });
      try {
        if (text.length <= mostText) storage.setItem(name, text);
        else storage.removeItem(name);
      } catch {
        // No room: this tab forgets its steps on a reload.
      }
    },
  };
}

export const keepNoSteps: KeptSteps = { load: () => noHistory, keep: () => undefined };

/** What can be undone and done again, kept for a browser tab over reloads. */
import type { Step } from './parts.ts';

export interface Steps {
  readonly past: readonly Step[];
  readonly future: readonly Step[];
}

export interface KeptSteps {
  load(): Steps;
  keep(steps: Steps): void;
}

/** Steps and characters that are kept; what is more would slow the tab down for what hardly anybody takes back. */
const mostSteps = 100;
const mostText = 500_000;
const none: Steps = { past: [], future: [] };

/** `owner`: who signed in, so that nobody takes back another's steps. */
export function keepStepsIn(storage: Pick<Storage, 'getItem' | 'setItem' | 'removeItem'>, owner: string): KeptSteps {
  const name = `rigid-rule:steps:${owner}`;
  return {
    load() {
      try {
        const kept = JSON.parse(storage.getItem(name) ?? 'null') as Partial<Steps> | null;
        return Array.isArray(kept?.past) && Array.isArray(kept.future) ? (kept as Steps) : none;
      } catch {
        return none;
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

export const keepNoSteps: KeptSteps = { load: () => none, keep: () => undefined };

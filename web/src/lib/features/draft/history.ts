/** What was done to the draft and can be taken back, and what was taken back and can be done again. Never changed in place. */
import type { PartChange } from './parts.ts';

/** What one undo takes back: all that was done in one act. */
export interface Step {
  readonly changes: readonly PartChange[];
  readonly label: string;
  /** Steps of one group, made in one go, are undone together: a drag, a typed word. */
  readonly group: string;
}

export interface History {
  readonly past: readonly Step[];
  readonly future: readonly Step[];
}

export const noHistory: History = { past: [], future: [] };

/** With a further step: it joins the last one of the same group, and nothing can be done again any more. */
export function withStep({ past }: History, step: Step): History {
  const last = past.at(-1);
  const joins = last?.group === step.group;
  const joined = joins ? { ...last, changes: [...last.changes, ...step.changes] } : step;
  return { past: [...(joins ? past.slice(0, -1) : past), joined], future: [] };
}

/** From where to where a step goes when it is taken back, or done again. */
export type Direction = 'undo' | 'redo';

/** The step that comes next in a direction, and the history without it; undefined where there is none. */
export function nextStep(
  { past, future }: History,
  direction: Direction,
): { readonly step: Step; readonly rest: History } | undefined {
  const step = (direction === 'undo' ? past : future).at(-1);
  if (!step) return undefined;
  return {
    step,
    rest: direction === 'undo' ? { past: past.slice(0, -1), future } : { past, future: future.slice(0, -1) },
  };
}

/** With a step that was taken back among those that can be done again, or the other way round. */
export const withMoved = ({ past, future }: History, step: Step, direction: Direction): History =>
  direction === 'undo' ? { past, future: [...future, step] } : { past: [...past, step], future };

import { sameJson } from '@rigid-rule/core/document';

/** How the numbers and dates of a file are written: as programs write them, or as the organisation does. */
export type Written = 'neutral' | 'own';

/** What one cell is, read as it may be written. */
type Read = { readonly value: unknown } | { readonly problem: string };

/**
 * Undefined where a file reads the same both ways, else the way in which more of it can be read; neutrally where that says
 * nothing, since nobody can tell 1.500 from 1,5 by looking at it: whoever takes it in is told and can say otherwise.
 */
export function writtenAs(cells: Iterable<Readonly<Record<Written, Read>>>): Written | undefined {
  let [differ, better] = [false, 0];
  for (const { neutral, own } of cells) {
    differ ||= !sameJson(neutral, own);
    better += Number('value' in own) - Number('value' in neutral);
  }
  return differ ? (better > 0 ? 'own' : 'neutral') : undefined;
}

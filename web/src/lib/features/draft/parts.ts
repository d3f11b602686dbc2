import type { Operation, Part, PartRef } from '@rigid-rule/core';

export interface VersionedPart extends Part {
  readonly version: number;
}

/** An edit of one part, as the interface asks for it. */
export interface PartEdit {
  readonly ref: PartRef;
  readonly operations: readonly Operation[];
  /** Where the part comes to stand among those of its kind. */
  readonly position?: number;
}

/** An edit that was made, with what takes it back. */
export interface PartChange extends PartEdit {
  readonly inverse: readonly Operation[];
  readonly positionBefore?: number;
}

/** What one undo takes back: all that was done in one act. */
export interface Step {
  readonly changes: readonly PartChange[];
  readonly label: string;
  /** Steps of one group, made in one go, are undone together: a drag, a typed word. */
  readonly group: string;
}

/** The edits that take changes back, the last one first. */
export const takenBack = (changes: readonly PartChange[]): PartEdit[] =>
  changes.toReversed().map(({ ref, inverse, positionBefore }) => ({
    ref,
    operations: inverse,
    ...(positionBefore === undefined ? {} : { position: positionBefore }),
  }));

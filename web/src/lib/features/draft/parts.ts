import type { Operation, PartRef } from '@rigid-rule/core/document';

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

/**
 * The edits that take changes back, the last one first. Each is guarded by what the change left there: where somebody
 * has changed it since, or moved other things to its place, nothing is done.
 */
export const takenBack = (changes: readonly PartChange[]): PartEdit[] =>
  changes.toReversed().map(({ ref, operations, inverse, positionBefore }) => ({
    ref,
    operations: guarded(operations, inverse),
    ...(positionBefore === undefined ? {} : { position: positionBefore }),
  }));

/** Every operation but a test has one inverse; they stand the other way round. */
function guarded(operations: readonly Operation[], inverse: readonly Operation[]): Operation[] {
  const changing = operations.filter((o) => o.op !== 'test').toReversed();
  return inverse.flatMap((back, i): Operation[] => {
    const done = changing[i];
    if (!done || done.op === 'remove' || back.op === 'add' || back.op === 'test') return [back];
    return [{ op: 'test', path: back.path, value: done.value }, back];
  });
}

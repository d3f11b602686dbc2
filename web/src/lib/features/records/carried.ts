/** What was typed on one page of a record, for the other one that it is continued on. */
import type { Typed } from '@rigid-rule/core/related';

let carried: { readonly record: string; readonly typed: readonly Typed[] } | undefined;

/** `record`: its address, that of a new one of its type. Kept until a page of it takes it up, once. */
export function carry(record: string, typed: readonly Typed[]): void {
  carried = { record, typed };
}

/** What another page of the record left; none where the last one was of another record. */
export function takeCarried(record: string): readonly Typed[] {
  const found = carried?.record === record ? carried.typed : [];
  carried = undefined;
  return found;
}

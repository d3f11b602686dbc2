/** What was typed on one form of a record type, for the other form that it is continued on. */
import type { Typed } from '@rigid-rule/core/related';

let carried: { readonly typeKey: string; readonly typed: readonly Typed[] } | undefined;

/** Kept until a form of the type takes it up, once. */
export function carry(typeKey: string, typed: readonly Typed[]): void {
  carried = { typeKey, typed };
}

/** What another form of the type left; none where the last one was of another type. */
export function takeCarried(typeKey: string): readonly Typed[] {
  const found = carried?.typeKey === typeKey ? carried.typed : [];
  carried = undefined;
  return found;
}

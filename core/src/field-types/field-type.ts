/** What a field type has to say about itself. One descriptor a type; nothing else in core tells types apart. */
import type { Rounding } from '../values/number.ts';
import type { Type } from '../expression/types.ts';
import type { Field, Stored } from '../rulebook/document.ts';
import type { Host } from '../functions/function.ts';
import { isVisible } from '../values/unicode-case.ts';
import type { Value } from '../values/value.ts';

export interface OptionNames {
  /** Name of the field, for messages. */
  readonly field: string;
  readonly names: readonly string[];
  /** Rank of each option name in an ordered picklist; options outside the order are absent. */
  readonly order: ReadonlyMap<string, number> | null;
}

/** A value in stored form, or why there is none, as the end of the sentence that begins with the value. */
export type Coerced = { readonly value: Stored } | { readonly problem: string };

export interface FieldType {
  readonly key: string;
  /** As the screen says it. */
  readonly name: string;
  /** The column of a grid or form is right-aligned and tabular. */
  readonly numeric?: true;
  /** What of its text a place or an organisation writes in its own way; absent: nothing. */
  readonly written?: 'number' | 'money' | 'day' | 'instant';
  /** Text of several lines. */
  readonly lines?: true;
  /** Stored as an instant in UTC; people read it to the minute, by the clocks of the organisation. */
  readonly instant?: true;
  /** Type inside formulas. */
  typeOf(field: Field): Type;
  /** From a stored value to what formulas compute with; instants are read in the host's zone, where it has one. */
  read(stored: Stored, field: Field, host?: Host): Value;
  /**
   * Any JSON or formula value to stored form: coerced to the type, rounded to the scale, checked against options,
   * length and range. Blank in, blank out.
   */
  coerce(value: unknown, field: Field): Coerced;
  /** What a person typed, ISO or grouped (`1,250`), to something `coerce` takes. */
  parse(text: string, field: Field): unknown;
  /** Plain text for a person; numbers grouped by thousands. */
  format(stored: Stored, field: Field): string;
  /** How a number with more decimals is rounded where its field does not say. */
  readonly rounding?: Rounding;
  /** Distance of neighbouring values that the field states: a unit of its last decimal, a day (1) for dates. Absent: none. */
  step?(field: Field): number | undefined;
  /** The value of a new record's field. */
  readonly starting: Stored;
  /** For sorting lists; blank sorts last whatever the direction. */
  compare(a: Stored, b: Stored, field: Field): number;
  /** Values at the edges of what the field can hold, blank left out: worth trying on every rule that reads it. */
  boundaryValues(field: Field): readonly Stored[];
  /** SQL expression over `data` (jsonb) that sorts as `compare` does; `key` is a quoted literal. */
  readonly sql: 'number' | 'text' | 'boolean';
}

export function isBlankStored(v: Stored | undefined): boolean {
  if (v === null || v === undefined) return true;
  return typeof v === 'string' ? !isVisible(v) : Array.isArray(v) && v.length === 0;
}

/** Values compare in stored form: lists as sets; blank equals a text without a visible character and the empty list. */
export function sameStored(a: Stored | undefined, b: Stored | undefined): boolean {
  if (isBlankStored(a) || isBlankStored(b)) return isBlankStored(a) && isBlankStored(b);
  if (Array.isArray(a) && Array.isArray(b))
    return a.length === b.length && a.every((x) => (b as readonly string[]).includes(x as string));
  return a === b;
}

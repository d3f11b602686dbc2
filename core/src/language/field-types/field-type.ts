/** What a field type has to say about itself. One descriptor a type; nothing else in core tells types apart. */
import type { Writing } from '../types/writing.ts';
import type { Rounding } from '../../values/number.ts';
import type { Type } from '../types/types.ts';
import type { ColumnTypeKey, Field, Stored } from '../../document/document.ts';
import type { Host } from '../types/host.ts';
import { isVisible } from '../../values/unicode-case.ts';
import type { Value } from '../../values/value.ts';

/** A value in stored form, or why there is none, as the end of the sentence that begins with the value. */
export type Coerced = { readonly value: Stored } | { readonly problem: string };

/** How a stored value is read in SQL: what is stored under a field may still be of the type that it had before. */
export interface SqlForm {
  /** `jsonb_typeof` of what is stored. */
  readonly json: 'number' | 'string' | 'boolean' | 'array';
  /** The PostgreSQL type that sorts as `compare` does. */
  readonly as: 'numeric' | 'text' | 'boolean' | 'interval';
  /** POSIX regular expression of the texts that have that form; absent: all. */
  readonly like?: string;
}

/** A value of a closed list that the type brings along. */
export interface Choice {
  /** As addresses and SQL write the value. */
  readonly key: string;
  readonly name: string;
  readonly value: Stored;
}

/** A formula that fields of the type are often begun with. */
export interface UsualStart {
  readonly name: string;
  readonly formula: string;
}

export interface FieldType<K extends string = string> {
  readonly key: K;
  /** As the screen says it. */
  readonly name: string;
  /** A value of it, as programs send it. */
  readonly example: unknown;
  /** Names a record of the field's `recordType` by its id. */
  readonly links?: true;
  /** Names a user by email. */
  readonly users?: true;
  /** Takes its values from the options of the field. */
  readonly chooses?: 'one' | 'many';
  /** The only values that there are. */
  readonly choices?: readonly Choice[];
  /** A notice can be addressed to it. */
  readonly reaches?: true;
  /** Anything may be typed. */
  readonly free?: true;
  /** A record can be found by it, as by a name. */
  readonly identifies?: true;
  /** It may tell who somebody is: in which way it is replaced where records are copied without that. */
  readonly masks?: 'words' | 'address' | 'digits' | 'link';
  /** May be part of the title of a record. */
  readonly titles?: true;
  /** Takes texts made of words and fields. */
  readonly templated?: true;
  /** A field may say how many characters it takes. */
  readonly limited?: true;
  /** The type of a mapping table's column that holds such values. */
  readonly column: ColumnTypeKey;
  /** How DMN 1.3 names such values, where a column of no type does: its `typeRef`, and the function that makes one. */
  readonly dmn?: { readonly typeRef: string; readonly call: string };
  /** The value at a place of the axis that analysis counts on: a day number for dates. Absent: the number itself. */
  at?(place: number): Stored;
  /** `userRecordType`: key of the record type that stands for users. */
  usualStarts?(field: Field, userRecordType: string | undefined): readonly UsualStart[];
  /** The column of a grid or form is right-aligned and tabular. */
  readonly numeric?: true;
  /** What of its text a place or an organisation writes in its own way; absent: nothing. */
  readonly written?: 'number' | 'money' | 'day' | 'instant';
  /** Lists show what lies between two bounds. Those of an instant are days. */
  readonly bounds?: {
    /** What one is: `a number`. */
    readonly called: string;
    /** Whether a text is one, in stored form. */
    accepts(text: string): boolean;
  };
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
   * length and range. Blank in, blank out. `writing`: of what is said where it is refused.
   */
  coerce(value: unknown, field: Field, writing?: Writing): Coerced;
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
  readonly sql: SqlForm;
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

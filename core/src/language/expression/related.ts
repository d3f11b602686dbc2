/** What formulas and outcomes ask of other records, of mapping tables and of the write. The engine answers. */
import type { ReadRecord } from '../functions/members.ts';
import type { MatchMode } from '../../values/match-keys.ts';
import type { ContextValue, RecordRef, Value } from '../../values/value.ts';
import type { SlotIndex } from '../../document/slots.ts';

export interface RelatedRecords {
  readonly self: RecordRef;
  readonly origin: Value;
  readonly user: Value;
  readonly read: ReadRecord;
  readonly table: (key: string) => LookupTable | undefined;
  /** Records of the type whose field matches a value. */
  readonly match: (recordType: string, field: string, mode: MatchMode, value: string) => readonly RecordRef[];
  /** Whether a field of the record has changed in the write, by slot. */
  readonly changed: (slot: SlotIndex) => boolean;
}

export type Hit =
  | { readonly found: 'none' }
  /** The policy allows one answer and the rows give several. */
  | { readonly found: 'several'; readonly rows: readonly number[] }
  /** Values in the order of the output columns. */
  | { readonly found: 'one'; readonly rows: readonly number[]; readonly values: readonly Value[] };

export interface LookupTable {
  /** The rows as formulas see them. */
  readonly rows: readonly ContextValue[];
  /** Rows whose column equals the value; undefined where the column holds more than plain values. */
  equal(column: string, v: Value): readonly ContextValue[] | undefined;
  /** What the table gives for keys in the order of its key columns. */
  find(keys: readonly Value[]): Hit;
}

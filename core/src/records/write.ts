/** What goes into one write: plain JSON. */
import type { Moment, RecordData, User, Winner } from '../document/document.ts';

export interface Write {
  /** Key of the record type. */
  readonly recordType: string;
  /** Id of the stored record; absent for a new one. */
  readonly id?: string;
  /** The stored record with the fields that a person set last; null for a new one. */
  readonly before: {
    readonly data: RecordData;
    readonly held: readonly string[];
    /** When it was last written: the clock as a condition that starts to hold saw it. */
    readonly now?: string;
  } | null;
  /** Values as they came, by field key; a key that is absent is not sent, null clears. */
  readonly sent: Readonly<Record<string, unknown>>;
  /** Fields that a person set by hand, in order, where that is known. */
  readonly typed: readonly string[];
  readonly moment: Moment;
  /** Key of an entry point, such as `form:full` or `api`. */
  readonly entryPoint: string;
  /** ISO 8601 instant with the offset of the organisation's zone: what `now()` and `today()` give. */
  readonly now: string;
  /** Rules named by a backfill or a request, by key. */
  readonly woken?: readonly string[];
  /** Who writes. */
  readonly user?: User;
  /** The record that a conversion starts from. */
  readonly origin?: { readonly recordType: string; readonly id?: string; readonly data: RecordData };
  /** Values typed through an entry point that is not by hand are held all the same. */
  readonly hold?: boolean;
  /** Fields handed back to their rules: no longer held, and their rules woken. */
  readonly handBack?: readonly string[];
  /** Paths of related fields whose change caused this write, as `pathKey` gives them. */
  readonly relatedChanges?: readonly string[];
  /** Related records as they stood before the write that caused this one. */
  readonly formerly?: readonly { readonly recordType: string; readonly id: string; readonly data: RecordData }[];
  /** By field what rules of other records give: the winner that the rule states over a value set by hand. */
  readonly writtenBy?: Readonly<Record<string, { readonly rule: string; readonly winner: Winner }>>;
  /** Rules that have acted on this record in the same transaction: what starts to hold does so once. */
  readonly acted?: readonly string[];
  /** Backfills and requests notify nobody unless this is set. */
  readonly notify?: boolean;
}

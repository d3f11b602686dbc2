/** What goes into one write and what comes out of it. Both are plain JSON. */
import type { Host } from '../functions/function.ts';
import type { Cause } from '../rule-kinds/rule-kind.ts';
import type { Moment, RecordData, Stored, User, Winner } from '../rulebook/document.ts';
import type { Deadline } from '../values/meter.ts';
import type { Ask } from './world.ts';

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
  readonly given?: Readonly<Record<string, { readonly rule: string; readonly winner: Winner }>>;
  /** Rules that have acted on this record in the same transaction: what starts to hold does so once. */
  readonly acted?: readonly string[];
  /** Backfills and requests notify nobody unless this is set. */
  readonly notify?: boolean;
}

/** `waiting`: related records were asked for and not yet given; `failed`: the questions never ended. */
export type Verdict = 'saved' | 'stopped' | 'does not settle' | 'waiting' | 'failed';

/** Who set a value: what came in with the write, or a rule. */
export type Author = { readonly by: 'sent' } | { readonly by: 'rule'; readonly rule: string };

export interface Change {
  readonly field: string;
  readonly from: Stored;
  readonly to: Stored;
  readonly author: Author;
}

export interface Message {
  readonly severity: 'stop' | 'warn';
  readonly text: string;
  readonly field?: string;
  readonly rule?: string;
}

export type TraceVerdict =
  | 'off'
  | 'broken'
  | 'other moment'
  | 'other entry point'
  | 'asleep'
  | 'condition false'
  | 'condition unknown'
  | 'already held'
  | 'ran'
  | 'waiting'
  | 'no effect'
  | 'stops'
  /** A formula goes beyond its budget. */
  | 'failed';

export interface TraceOutcome {
  readonly field: string;
  readonly from: Stored;
  readonly to: Stored;
  /** Which band, row or branch decided. */
  readonly branch?: number;
  /** Why nothing, or nothing of its own, was written. */
  readonly cause?: Cause | 'same value' | 'held by a person' | 'typed later';
  /** What decided, in words. */
  readonly because?: string;
  /** Another record is written: its type and id. */
  readonly on?: { readonly recordType: string; readonly id: string };
}

export interface TraceEntry {
  readonly rule: string;
  readonly verdict: TraceVerdict;
  /** Fields whose change woke it; for *asleep* those that would. */
  readonly wokenBy: readonly string[];
  /** What it read, as formulas name it. */
  readonly read: readonly { readonly name: string; readonly value: Stored }[];
  /** The parts of its condition and what each gave. */
  readonly parts?: readonly { readonly text: string; readonly value: Stored }[];
  readonly outcomes: readonly TraceOutcome[];
  readonly message?: string;
}

export interface FieldState {
  /** Key of the rule that locks the field. */
  readonly locked?: string;
  readonly required?: true;
  /** Key of the rule that hides the field. */
  readonly hidden?: string;
  /** Keys of the options allowed now, where a rule limits them. */
  readonly allowed?: readonly string[];
}

/** A value that a rule writes on another record. */
export interface RelatedWrite {
  readonly recordType: string;
  readonly id: string;
  readonly field: string;
  readonly value: Stored;
  readonly rule: string;
  /** What the rule says of a value set by hand there. */
  readonly winner: Winner;
}

export interface Notification {
  readonly channel: 'email' | 'task' | 'webhook';
  readonly to: string;
  readonly subject: string;
  readonly body: string;
  /** ISO 8601 date. */
  readonly due?: string;
  readonly rule: string;
}

export interface Settlement {
  readonly verdict: Verdict;
  readonly data: RecordData;
  readonly held: readonly string[];
  readonly changes: readonly Change[];
  readonly states: Readonly<Record<string, FieldState>>;
  readonly messages: readonly Message[];
  readonly notifications: readonly Notification[];
  /** Keys of the rules that act only when their condition starts to hold, and did. */
  readonly acted: readonly string[];
  /** Values for other records, in the order in which rules gave them. */
  readonly writes: readonly RelatedWrite[];
  /** What has to be answered before the write can settle. */
  readonly asks: readonly Ask[];
  readonly trace: readonly TraceEntry[];
}

export interface SettleOptions {
  /** Leave the trace out, for bulk runs. */
  readonly trace?: boolean;
  /** In place of the program's own. */
  readonly host?: Host;
  /** What is not settled by then fails in words: for hosts that others wait for. */
  readonly deadline?: Deadline;
}

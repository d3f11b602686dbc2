/** What goes into one write and what comes out of it. Both are plain JSON. */
import type { Cause } from '../rule-kinds/rule-kind.ts';
import type { Moment, RecordData, Stored } from '../rulebook/document.ts';

export interface Write {
  /** Key of the record type. */
  readonly recordType: string;
  /** The stored record with the fields that a person set last; null for a new one. */
  readonly before: { readonly data: RecordData; readonly held: readonly string[] } | null;
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
}

export type Verdict = 'saved' | 'stopped' | 'does not settle';

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
  | 'no effect'
  | 'stops';

export interface TraceOutcome {
  readonly field: string;
  readonly from: Stored;
  readonly to: Stored;
  /** Which band, row or branch decided. */
  readonly branch?: number;
  /** Why nothing, or nothing of its own, was written. */
  readonly cause?: Cause | 'same value' | 'held by a person' | 'typed later';
}

export interface TraceEntry {
  readonly rule: string;
  readonly verdict: TraceVerdict;
  /** Fields whose change woke it; for *asleep* those that would. */
  readonly wokenBy: readonly string[];
  /** What it read, as formulas name it. */
  readonly read: readonly { readonly name: string; readonly value: Stored }[];
  readonly outcomes: readonly TraceOutcome[];
  readonly message?: string;
}

export interface FieldState {
  /** Key of the rule that locks the field. */
  readonly locked?: string;
  readonly required?: true;
  /** Key of the rule that hides the field. */
  readonly hidden?: string;
}

export interface Settlement {
  readonly verdict: Verdict;
  readonly data: RecordData;
  readonly held: readonly string[];
  readonly changes: readonly Change[];
  readonly states: Readonly<Record<string, FieldState>>;
  readonly messages: readonly Message[];
  readonly trace: readonly TraceEntry[];
}

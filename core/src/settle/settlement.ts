/** What comes out of one write: plain JSON. */
import { type Author, type TraceEntry } from '../compile/trace-entry.ts';
import type { Host } from '../language/types/host.ts';
import type { Writing } from '../language/types/writing.ts';
import type { RecordData, Stored, Winner } from '../document/document.ts';
import type { Deadline } from '../values/meter.ts';
import type { RowsQuery } from '../records/row-answers.ts';
import type { RecordQuery } from '../records/record-source.ts';

/** `waiting`: related records were asked for and not yet given; `failed`: the questions never ended. */
export type Verdict = 'saved' | 'stopped' | 'does not settle' | 'waiting' | 'failed';

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
  /** Where the rule adds to a list, or takes out of it: what. `value` is the list as this write leaves it. */
  readonly update?: { readonly way: 'add' | 'remove'; readonly value: Stored };
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
  readonly asks: readonly RecordQuery[];
  /** As `asks`, of mapping tables whose rows stand elsewhere; absent where all are at hand. */
  readonly rowsAsked?: readonly RowsQuery[];
  readonly trace: readonly TraceEntry[];
}

export interface SettleOptions {
  /** Leave the trace out, for bulk runs. */
  readonly trace?: boolean;
  /** In place of the program's own. */
  readonly host?: Host;
  /** How numbers and days stand in messages; without it as the program's organisation writes them. */
  readonly writing?: Writing;
  /** What is not settled by then fails in words: for hosts that others wait for. */
  readonly deadline?: Deadline;
  /** The steps that its formulas took are added here: what several settlements take together is bounded by it. */
  readonly work?: { steps: number };
}

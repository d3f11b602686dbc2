/** What a rule did in one write, as people are told. */
import type { Stored } from '../document/document.ts';
import type { NoWriteReason } from './rule-kinds/rule-kind.ts';

/** Who set a value: what came in with the write, or a rule. */
export type Author = { readonly by: 'sent' } | { readonly by: 'rule'; readonly rule: string };

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

/** As people read them, on the bench, in tests and on the command line. */
export const verdictTexts: Readonly<Record<TraceVerdict, string>> = {
  ran: 'ran',
  'no effect': 'no effect',
  stops: 'stops',
  failed: 'failed',
  broken: 'left out',
  asleep: 'not triggered',
  off: 'off',
  'other moment': 'not at this stage',
  'other entry point': 'not through this',
  'condition false': 'not met',
  'condition unknown': 'unknown',
  waiting: 'waiting',
  'already held': 'held already',
};

export interface TraceOutcome {
  readonly field: string;
  readonly from: Stored;
  readonly to: Stored;
  /** Which band, row or branch decided. */
  readonly branch?: number;
  /** Why nothing, or nothing of its own, was written. */
  readonly cause?: NoWriteReason | 'same value' | 'held by a person' | 'typed later';
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

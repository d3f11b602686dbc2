import type { TraceOutcome, TraceVerdict } from '@rigid-rule/core/compile';

/** A trace verdict as people read it, and how much it matters. */
export const verdictWords: Readonly<
  Record<TraceVerdict, { readonly text: string; readonly tone: 'held' | 'stop' | 'faint' }>
> = {
  ran: { text: 'ran', tone: 'held' },
  'no effect': { text: 'no effect', tone: 'faint' },
  stops: { text: 'stops', tone: 'stop' },
  failed: { text: 'failed', tone: 'stop' },
  broken: { text: 'left out', tone: 'stop' },
  asleep: { text: 'not triggered', tone: 'faint' },
  off: { text: 'off', tone: 'faint' },
  'other moment': { text: 'not at this stage', tone: 'faint' },
  'other entry point': { text: 'not through this', tone: 'faint' },
  'condition false': { text: 'not met', tone: 'faint' },
  'condition unknown': { text: 'unknown', tone: 'faint' },
  waiting: { text: 'waiting', tone: 'faint' },
  'already held': { text: 'held already', tone: 'faint' },
};

export const causeWords: Readonly<Record<NonNullable<TraceOutcome['cause']>, string>> = {
  'same value': 'it is that already',
  'blank source': 'the source is blank',
  'blank result': 'the formula gives nothing',
  'filled already': 'there is a value, or one was sent',
  'nothing fits': 'nothing fits the value',
  'wrong type': 'the source is of another type',
  'no match': 'nothing matches',
  'several matches': 'several match',
  'no longer allowed': 'it is no longer among the options',
  'does not fit': 'the value does not fit the field',
  'held by a person': 'a person set it, and the person wins',
  'typed later': 'it was typed after what woke the rule',
};

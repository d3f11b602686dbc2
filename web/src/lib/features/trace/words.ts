import { verdictTexts, type TraceOutcome, type TraceVerdict } from '@rigid-rule/core/compile';

type Tone = 'held' | 'stop' | 'faint';

const tones: Partial<Record<TraceVerdict, Tone>> = { ran: 'held', stops: 'stop', failed: 'stop', broken: 'stop' };

/** A trace verdict as people read it, and how much it matters. */
export const verdictWord = (verdict: TraceVerdict): { readonly text: string; readonly tone: Tone } => ({
  text: verdictTexts[verdict],
  tone: tones[verdict] ?? 'faint',
});

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

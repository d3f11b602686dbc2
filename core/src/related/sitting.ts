/**
 * A person at a form or on the bench: what was typed in order, and what of a settlement is in sight. One meaning of
 * *typed back*, *overruled* and *seen* for the browser, the server and the tests.
 */
import { sameStored } from '../language/field-types/field-type.ts';
import { fieldTypeOf } from '../language/field-types/index.ts';
import type { Field, RecordData, RecordType, Stored } from '../document/document.ts';
import { canonicalJson } from '../document/canonical.ts';
import { effectsOf, type Effect } from './effects.ts';
import type { Message, Settlement, Verdict } from '../settle/settlement.ts';
import type { Transaction } from './propagation.ts';

/** A value as it was typed, by field key. */
export interface Typed {
  readonly key: string;
  readonly value: unknown;
}

/** What a typed value is once it is stored; undefined where the field cannot hold it. */
export function storedOf(value: unknown, field: Field): Stored | undefined {
  const coerced = fieldTypeOf(field).coerce(value, field);
  return 'value' in coerced ? coerced.value : undefined;
}

/**
 * What was typed, with one more value behind it. A value that comes to what stood there at the start was typed back: it
 * counts as not typed, however it is written.
 */
export function typeInto(typed: readonly Typed[], field: Field, value: unknown, starting: Stored): readonly Typed[] {
  const others = typed.filter((t) => t.key !== field.key);
  const stored = storedOf(value, field);
  return stored !== undefined && sameStored(stored, starting) ? others : [...others, { key: field.key, value }];
}

/** The typed value that a rule put another one in the place of, as it would be stored; undefined where it stands or is refused. */
export function overruled(typed: Typed | undefined, field: Field, settled: Stored): Stored | undefined {
  const stored = typed && storedOf(typed.value, field);
  return stored === undefined || sameStored(stored, settled) ? undefined : stored;
}

/** What of a settlement a person has in sight on a form. */
export interface Seen {
  readonly data: RecordData;
  readonly states: Settlement['states'];
  readonly messages: readonly Pick<Message, 'severity' | 'text' | 'field'>[];
  readonly verdict: Verdict;
  /** What other records would get, where that was told. */
  readonly elsewhere?: readonly Effect[];
}

/** `fields`: keys of those on the form. Messages are in sight wherever they belong. */
export function seenOf(
  { data, states, messages, verdict }: Settlement,
  fields: readonly string[],
  elsewhere?: readonly Effect[],
): Seen {
  const pick = <T>(from: Readonly<Record<string, T>>): Record<string, T> =>
    Object.fromEntries(fields.flatMap((key) => (from[key] === undefined ? [] : [[key, from[key]]])));
  return {
    data: pick(data),
    states: pick(states),
    messages: messages.map(({ severity, text, field }) => ({ severity, text, ...(field ? { field } : {}) })),
    verdict,
    ...(elsewhere ? { elsewhere } : {}),
  };
}

/** One thing that comes out otherwise than it was seen. */
export type Difference =
  | { readonly what: 'value'; readonly field: string; readonly from: Stored; readonly to: Stored }
  | { readonly what: 'state'; readonly field: string; readonly text: string }
  | { readonly what: 'message'; readonly gone: boolean; readonly text: string; readonly field?: string }
  | { readonly what: 'verdict'; readonly from: Verdict; readonly to: Verdict }
  | { readonly what: 'elsewhere'; readonly gone: boolean; readonly effect: Effect };

const stateWords: Readonly<Record<string, readonly [is: string, no: string]>> = {
  locked: ['is locked', 'is no longer locked'],
  hidden: ['is hidden', 'is no longer hidden'],
  required: ['is required', 'is no longer required'],
  allowed: ['offers other options', 'offers other options'],
};

/** Values compare as they are shown: an instant to the minute. */
function looksTheSame(field: Field, a: Stored, b: Stored): boolean {
  if (sameStored(a, b)) return true;
  return fieldTypeOf(field).instant === true && String(a).slice(0, 16) === String(b).slice(0, 16);
}

const sameState = (a: unknown, b: unknown): boolean => JSON.stringify(a ?? null) === JSON.stringify(b ?? null);

export function differencesBetween(
  seen: Seen,
  now: Seen,
  recordType: RecordType,
  fields: readonly string[],
): Difference[] {
  const found: Difference[] = [];
  for (const field of recordType.fields) {
    const { key } = field;
    if (!fields.includes(key)) continue;
    const [from, to] = [seen.data[key] ?? null, now.data[key] ?? null];
    if (!looksTheSame(field, from, to)) found.push({ what: 'value', field: key, from, to });
    const [was, is] = [seen.states[key] ?? {}, now.states[key] ?? {}] as Readonly<Record<string, unknown>>[];
    for (const [state, [yes, no]] of Object.entries(stateWords)) {
      // Which rule locks or hides a field is not in sight.
      const shown = (v: unknown): unknown => (state === 'allowed' ? v : v !== undefined && v !== false);
      if (!sameState(shown(was![state]), shown(is![state])))
        found.push({ what: 'state', field: key, text: `${field.name} ${shown(is![state]) ? yes : no}` });
    }
  }
  const text = (m: Seen['messages'][number]): string => `${m.severity}\0${m.field ?? ''}\0${m.text}`;
  const [before, after] = [new Set(seen.messages.map(text)), new Set(now.messages.map(text))];
  const told = (m: Seen['messages'][number], gone: boolean): Difference => ({
    what: 'message',
    gone,
    text: m.text,
    ...(m.field ? { field: m.field } : {}),
  });
  found.push(...now.messages.filter((m) => !before.has(text(m))).map((m) => told(m, false)));
  found.push(...seen.messages.filter((m) => !after.has(text(m))).map((m) => told(m, true)));
  if (seen.verdict !== now.verdict) found.push({ what: 'verdict', from: seen.verdict, to: now.verdict });
  found.push(...elsewhereDifferences(seen.elsewhere, now.elsewhere));
  return found;
}

/** What was never told about other records is not compared. */
function elsewhereDifferences(seen: Seen['elsewhere'], now: Seen['elsewhere'] = []): Difference[] {
  if (!seen) return [];
  const text = (e: Effect): string => canonicalJson(e);
  const [before, after] = [new Set(seen.map(text)), new Set(now.map(text))];
  const told =
    (gone: boolean) =>
    (effect: Effect): Difference => ({ what: 'elsewhere', gone, effect });
  return [
    ...now.filter((e) => !before.has(text(e))).map(told(false)),
    ...seen.filter((e) => !after.has(text(e))).map(told(true)),
  ];
}

/** What a write that a person sends comes to, before anything of it is stored. */
export type Judged =
  | { readonly outcome: 'passes' }
  | { readonly outcome: 'stopped' }
  /** Something that was seen comes out otherwise, for whatever reason. */
  | { readonly outcome: 'differs'; readonly differences: readonly Difference[]; readonly effects: readonly Effect[] };

/** What was seen is what is saved: compared first, whatever the verdict. `fields`: keys of those that were in sight. */
export function judge(
  transaction: Transaction,
  recordType: RecordType,
  seen?: Seen & { readonly fields: readonly string[] },
): Judged {
  const { settlement } = transaction;
  const effects = effectsOf(transaction);
  const differences = seen
    ? differencesBetween(seen, seenOf(settlement, seen.fields, effects), recordType, seen.fields)
    : [];
  if (differences.length > 0) return { outcome: 'differs', differences, effects };
  return { outcome: settlement.verdict === 'saved' ? 'passes' : 'stopped' };
}

/** Reading outcomes of unknown origin: what is missing or of the wrong shape takes its starting value. */
import { enumerate } from '../../language/wording/prose.ts';
import type { NoWriteReason, Effect } from './rule-kind.ts';
import type { Otherwise } from './otherwise.ts';
import type { SlotIndex } from '../../document/slots.ts';

export type Loose = Readonly<Record<string, unknown>>;

export const looseObject = (v: unknown): Loose =>
  typeof v === 'object' && v !== null && !Array.isArray(v) ? (v as Loose) : {};
export const looseText = (v: unknown): string => (typeof v === 'string' ? v : '');
export const looseList = (v: unknown): readonly Loose[] => (Array.isArray(v) ? v.map(looseObject) : []);
export const looseTexts = (v: unknown): readonly string[] =>
  Array.isArray(v) ? v.filter((t): t is string => typeof t === 'string') : [];
export const oneOf = <T extends string>(v: unknown, known: readonly T[]): T =>
  known.includes(v as T) ? (v as T) : known[0]!;

/** What is done where an outcome has no value of its own. */
export function readOtherwise(outcome: unknown): Otherwise {
  const { do: what, value, message } = looseObject(outcome);
  if (what === 'leave') return { do: 'leave' };
  if (what === 'set' && (typeof value === 'string' || typeof value === 'number')) return { do: 'set', value };
  return what === 'stop' ? { do: 'stop', message: looseText(message) } : { do: 'clear' };
}

export function otherwiseEffect(target: SlotIndex, what: Otherwise, cause: NoWriteReason): Effect {
  if (what.do === 'leave') return { target, act: 'leave', cause };
  if (what.do === 'stop') return { target, act: 'stop', message: what.message, cause };
  return { target, act: 'set', value: what.do === 'set' ? what.value : null, cause };
}

/** `Cleared when Region is blank, has no row or has several`: cases that end alike in one clause. */
export function otherwiseClauses(
  cases: readonly (readonly [when: string, what: Otherwise])[],
  subject: string,
  name: (value: string | number) => string = String,
): string[] {
  const byEnd = new Map<string, string[]>();
  for (const [when, what] of cases) {
    const end = `${otherwiseWords(what, name)}${what.do === 'stop' ? ',' : ''}`;
    byEnd.set(end, [...(byEnd.get(end) ?? []), when]);
  }
  return [...byEnd].map(([end, when]) => `${end} when ${subject} ${enumerate(withoutRepeat(when), 'or')}`);
}

/** A verb that the phrase before has as well is not said again. */
function withoutRepeat(phrases: readonly string[]): string[] {
  const verb = (phrase: string | undefined): string | undefined => phrase?.split(' ')[0];
  return phrases.map((p, i) => (i > 0 && verb(p) === verb(phrases[i - 1]) ? p.slice(verb(p)!.length + 1) : p));
}

/** As sentences say it; `name` gives a value the name that people know. */
export function otherwiseWords(o: Otherwise, name: (value: string | number) => string = String): string {
  if (o.do === 'set') return `set to ${name(o.value)}`;
  if (o.do === 'stop') return `not saved, with “${o.message}”`;
  return o.do === 'clear' ? 'cleared' : 'left as it is';
}

/** Reading outcomes of unknown origin: what is missing or of the wrong shape takes its starting value. */
import type { Cause, Effect, Otherwise } from './rule-kind.ts';

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

export function otherwiseEffect(target: number, what: Otherwise, cause: Cause): Effect {
  if (what.do === 'leave') return { target, act: 'leave', cause };
  if (what.do === 'stop') return { target, act: 'stop', message: what.message, cause };
  return { target, act: 'set', value: what.do === 'set' ? what.value : null, cause };
}

/** As sentences say it; `name` gives a value the name that people know. */
export function otherwiseWords(o: Otherwise, name: (value: string | number) => string = String): string {
  if (o.do === 'set') return name(o.value);
  return o.do === 'clear' ? 'cleared' : o.do === 'leave' ? 'left as it is' : 'refused';
}

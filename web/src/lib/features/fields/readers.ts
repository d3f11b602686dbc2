/** What people type where it is no value of a record: numbers, days, moments. */
import { fieldTypes } from '@rigid-rule/core/language';
import { typedInstant } from '$lib/instants.ts';
import { nowIn } from '$lib/now.ts';
import { ownForm, ownSentences } from '$lib/organisation.svelte.ts';
import type { Reader } from '$lib/ui/typed.ts';

const number = fieldTypes.find((t) => t.key === 'number')!;

/** In the form of the organisation or the neutral one. */
export const numberReader =
  ({
    whole = false,
    ...limits
  }: { readonly whole?: boolean; readonly min?: number; readonly max?: number } = {}): Reader<number> =>
  (text) => {
    const typed = text.trim();
    if (typed === '') return { problem: 'Enter a number' };
    const field = { key: 'typed', name: 'typed', type: 'number' };
    const coerced = number.coerce(
      number.parse(ownForm().typedNumber(typed), field),
      { ...field, ...limits },
      ownSentences,
    );
    if ('problem' in coerced) return { problem: `${typed} ${coerced.problem}` };
    const value = Number(coerced.value);
    return whole && !Number.isInteger(value) ? { problem: `${typed} is not a whole number` } : { value };
  };

/** ISO 8601, an empty text for none. */
export const readDay: Reader<string> = (text) => {
  const day = ownForm().typedDay(text);
  if (day === '' || /^\d{4}-\d\d-\d\d$/.test(day)) return { value: day };
  return { problem: `${text.trim()} is not a day such as ${ownForm().day('2026-05-03')}` };
};

/** A day and a time as the clocks of a zone show them, or an instant with an offset of its own; ISO 8601. */
export const instantReader =
  (zone: string): Reader<string> =>
  (text) => {
    const given = text.trim();
    const typed = typedInstant(given, zone, ownForm());
    const isInstant = /^\d{4}-\d\d-\d\dT\d\d:\d\d(:\d\d(\.\d+)?)?(Z|[+-]\d\d:\d\d)$/.test(typed);
    const at = new Date(isInstant ? typed : NaN);
    if (!Number.isNaN(at.getTime())) return { value: nowIn(zone, at) };
    const wanted = `a day with a time, such as ${ownForm().day('2026-05-03')}, 09:00`;
    return { problem: given === '' ? `Enter ${wanted}` : `${given} is not ${wanted}` };
  };

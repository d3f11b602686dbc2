import { daysType } from '../types/types.ts';
import type { Stored } from '../../document/document.ts';
import { DaysDuration, durationText, nanosPerSecond, parseDuration } from '../../values/calendar.ts';
import type { Value } from '../../values/value.ts';
import type { Coerced, FieldType } from './field-type.ts';

/** Seconds of each unit, the longest first, with the words for one that people type; the last is what is shown. */
const units: readonly { readonly seconds: bigint; readonly words: readonly string[] }[] = [
  { seconds: 604_800n, words: ['w', 'wk', 'week'] },
  { seconds: 86_400n, words: ['d', 'day'] },
  { seconds: 3_600n, words: ['h', 'hr', 'hour'] },
  { seconds: 60n, words: ['m', 'min', 'minute'] },
  { seconds: 1n, words: ['s', 'sec', 'second'] },
];
const shownUnits = units.slice(1);
/** Longer ones are mistakes, and what adds them to a date leaves the calendar. */
const mostDays = 999_999n;

const unitOf = (word: string): bigint | undefined =>
  units.find((u) => u.words.includes(word) || u.words.includes(word.replace(/s$/, '')))?.seconds;

/** `2 weeks 4 h` as ISO 8601; undefined where it is no list of numbers with units. */
function isoOf(text: string): string | undefined {
  const parts = [...text.toLowerCase().matchAll(/(\d+)\s*([a-z]+)[\s,]*(?:and\s+)?/g)];
  if (parts.length === 0 || parts.map((p) => p[0]).join('') !== text.toLowerCase()) return undefined;
  let seconds = 0n;
  for (const [, count, word] of parts) {
    const unit = unitOf(word!);
    if (unit === undefined) return undefined;
    seconds += BigInt(count!) * unit;
  }
  return durationText(new DaysDuration(seconds * nanosPerSecond));
}

function coerce(value: unknown): Coerced {
  if (value === null || value === undefined || value === '') return { value: null };
  const input = typeof value === 'string' ? parseDuration(value.trim()) : value;
  if (!(input instanceof DaysDuration)) return { problem: 'is not a duration such as 14 days or PT36H' };
  if (input.nanos < 0n) return { problem: 'is below zero' };
  const whole = input.nanos - (input.nanos % nanosPerSecond);
  if (whole / nanosPerSecond > mostDays * 86_400n) return { problem: `is longer than ${mostDays} days` };
  return { value: durationText(new DaysDuration(whole)) };
}

const read = (stored: Stored): Value => {
  const found = typeof stored === 'string' ? parseDuration(stored) : null;
  return found instanceof DaysDuration ? found : null;
};
const nanosOf = (stored: Stored): bigint => (read(stored) as DaysDuration | null)?.nanos ?? -1n;

/** `14 days 4 hours`; 36 hours are 1 day 12 hours. */
function format(stored: Stored): string {
  const value = read(stored);
  if (!(value instanceof DaysDuration)) return typeof stored === 'string' ? stored : '';
  let left = value.nanos / nanosPerSecond;
  const parts = shownUnits.flatMap(({ seconds, words }) => {
    const count = left / seconds;
    left -= count * seconds;
    return count === 0n ? [] : [`${count} ${words.at(-1)!}${count === 1n ? '' : 's'}`];
  });
  return parts.join(' ') || '0 days';
}

/**
 * How long something takes or lasts: days and time, to the second, never years and months, whose length depends on the
 * day. Stored as ISO 8601 in its shortest form (`P14D`, `P1DT12H`), so that equal durations have one form.
 */
export const duration: FieldType<'duration'> = {
  key: 'duration',
  name: 'duration',
  example: 'P1DT12H',
  column: 'text',
  dmn: { typeRef: 'dayTimeDuration', call: 'duration' },
  sql: { json: 'string', as: 'interval', like: '^P([0-9]+D)?(T([0-9]+H)?([0-9]+M)?([0-9]+S)?)?$' },
  bounds: {
    called: 'a duration such as 14 days',
    accepts: (text) => {
      const input = coerce(text);
      return 'value' in input && input.value === text;
    },
  },
  starting: null,
  typeOf: () => daysType,
  read,
  coerce,
  parse: (text) => (text.trim() === '' ? null : (isoOf(text.trim()) ?? text.trim())),
  format,
  compare: (a, b) => (nanosOf(a) < nanosOf(b) ? -1 : nanosOf(a) > nanosOf(b) ? 1 : 0),
  boundaryValues: () => ['PT0S'],
  usualStarts: () => [
    { name: 'a day', formula: 'duration("P1D")' },
    { name: '4 weeks', formula: 'duration("P28D")' },
  ],
};

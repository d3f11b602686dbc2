import { anyType, dateType, listOf, numberType, textType } from '../types/types.ts';
import { addDays, dateText, FeelDate, weekday } from '../../values/calendar.ts';
import { datePart, isList, type Value } from '../../values/value.ts';
import { sizeOf, type LanguageFunction } from './function.ts';

/** More working days than this are not counted one by one: about forty years. */
const mostDays = 10_000;

function addWorkingDays([from, n, holidays]: readonly Value[]): Value {
  const start = datePart(from);
  if (!start || typeof n !== 'number' || !Number.isInteger(n) || Math.abs(n) > mostDays) return null;
  const free = new Set((isList(holidays ?? null) ? (holidays as readonly Value[]) : []).map(dateKey));
  const works = (d: FeelDate): boolean => weekday(d) <= 5 && !free.has(dateText(d));
  let date: FeelDate | null = start;
  for (let left = Math.abs(n); left > 0 && date;) {
    date = addDays(date, n > 0 ? 1 : -1);
    if (date && works(date)) left--;
  }
  return date;
}

const dateKey = (v: Value): string => {
  const date = datePart(v);
  return date ? dateText(date) : '';
};

const starts: Readonly<Record<string, (d: FeelDate) => FeelDate | null>> = {
  year: (d) => new FeelDate(d.year, 1, 1),
  quarter: (d) => new FeelDate(d.year, d.month - ((d.month - 1) % 3), 1),
  month: (d) => new FeelDate(d.year, d.month, 1),
  /** ISO 8601: a week begins on Monday. */
  week: (d) => addDays(d, 1 - weekday(d)),
  day: (d) => d,
};

export const workingDayFunctions: readonly LanguageFunction[] = [
  {
    name: 'add working days',
    parameters: [
      { name: 'date', type: anyType },
      { name: 'days', type: numberType },
      { name: 'holidays', type: listOf(dateType), optional: true },
    ],
    result: dateType,
    help: 'The date so many working days on (Monday to Friday, without the holidays given); negative: back.',
    examples: [
      ['add working days(@"2026-05-01", 1)', new FeelDate(2026, 5, 4)],
      ['add working days(@"2026-05-04", -1)', new FeelDate(2026, 5, 1)],
      ['add working days(@"2026-04-30", 1, [@"2026-05-01"])', new FeelDate(2026, 5, 4)],
      ['add working days(@"2026-05-02", 0)', new FeelDate(2026, 5, 2)],
    ],
    work: ([, n, holidays = null]) =>
      10 + 6 * Math.min(mostDays, typeof n === 'number' ? Math.abs(n) : 0) + 10 * sizeOf(holidays),
    evaluate: addWorkingDays,
  },
  {
    name: 'start of',
    parameters: [
      { name: 'date', type: anyType },
      { name: 'unit', type: textType },
    ],
    result: dateType,
    help: 'The first day of the year, quarter, month or week (from Monday) that a date lies in.',
    examples: [
      ['start of(@"2026-05-20", "quarter")', new FeelDate(2026, 4, 1)],
      ['start of(@"2026-05-03", "week")', new FeelDate(2026, 4, 27)],
      ['start of(@"2026-05-03", "age")', null],
    ],
    evaluate([date, unit]) {
      const args = datePart(date);
      if (!args || typeof unit !== 'string' || !Object.hasOwn(starts, unit)) return null;
      return starts[unit]!(args);
    },
  },
];

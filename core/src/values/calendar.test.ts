import fc from 'fast-check';
import { Temporal } from 'temporal-polyfill';
import { describe, expect, it } from 'vitest';
import {
  addDays,
  addMonths,
  addNanos,
  dateOfDay,
  dayNumber,
  dayOfYear,
  DaysDuration,
  FeelDateTime,
  makeDate,
  monthsBetween,
  parseDate,
  parseDateTime,
  parseDuration,
  parseTime,
  temporalText,
  weekday,
  weekOfYear,
  YearsDuration,
  type FeelDate,
} from './calendar.ts';

// The reference for dates is the Temporal proposal's own polyfill.
/** Years that both print with four digits. */
const commonDay = fc.integer({ min: -600_000, max: 2_000_000 });
const anyDay = fc.integer({ min: -2_000_000, max: 3_000_000 });
const temporalDate = (day: number): Temporal.PlainDate => new Temporal.PlainDate(1970, 1, 1).add({ days: day });
const same = (ours: FeelDate | null, theirs: Temporal.PlainDate): void =>
  expect([ours?.year, ours?.month, ours?.day]).toEqual([theirs.year, theirs.month, theirs.day]);

describe('the calendar, against Temporal', () => {
  it('counts days and back', () => {
    fc.assert(
      fc.property(anyDay, (day) => {
        const date = dateOfDay(day);
        same(date, temporalDate(day));
        expect(dayNumber(date)).toBe(day);
      }),
    );
  });

  it('weekday, day of year, week of year', () => {
    fc.assert(
      fc.property(anyDay, (day) => {
        const [ours, theirs] = [dateOfDay(day), temporalDate(day)];
        expect([weekday(ours), dayOfYear(ours), weekOfYear(ours)]).toEqual([
          theirs.dayOfWeek,
          theirs.dayOfYear,
          theirs.weekOfYear,
        ]);
      }),
    );
  });

  it('adds months to the last day where a month is shorter, and days', () => {
    fc.assert(
      fc.property(anyDay, fc.integer({ min: -3000, max: 3000 }), (day, n) => {
        same(addMonths(dateOfDay(day), n), temporalDate(day).add({ months: n }));
        same(addDays(dateOfDay(day), n), temporalDate(day).add({ days: n }));
      }),
    );
  });

  it('the whole months between two dates', () => {
    fc.assert(
      fc.property(fc.integer({ min: -40_000, max: 40_000 }), fc.integer({ min: -40_000, max: 40_000 }), (a, b) => {
        const [from, to] = [temporalDate(a), temporalDate(b)];
        // Temporal counts a clamped month end as a month; FEEL compares the days of the month.
        fc.pre(from.day <= 28 && to.day <= 28);
        expect(monthsBetween(dateOfDay(a), dateOfDay(b)) + 0).toBe(
          from.until(to, { largestUnit: 'months' }).months + 0,
        );
      }),
    );
  });

  it('moves a date and time by nanoseconds', () => {
    fc.assert(
      fc.property(commonDay, fc.bigInt({ min: -(10n ** 18n), max: 10n ** 18n }), (day, nanos) => {
        const start = new FeelDateTime(dateOfDay(day), parseTime('13:20:00.5')!);
        const theirs = temporalDate(day)
          .toPlainDateTime('13:20:00.5')
          .add({ seconds: Number(nanos / 1_000_000_000n), nanoseconds: Number(nanos % 1_000_000_000n) });
        expect(temporalText(addNanos(start, nanos)!).replace(/\.?0*$/, '')).toBe(
          theirs.toString().replace(/\.?0*$/, ''),
        );
      }),
    );
  });
});

// ISO 8601 week dates: the examples of the standard's week rule as they are commonly printed. From memory.
describe('weeks of the year by ISO 8601', () => {
  it.each([
    ['2005-01-01', 53],
    ['2005-01-02', 53],
    ['2005-12-31', 52],
    ['2007-01-01', 1],
    ['2008-12-29', 1],
    ['2010-01-03', 53],
    ['2009-12-31', 53],
  ])('%s lies in week %i', (text, week) => expect(weekOfYear(parseDate(text)!)).toBe(week));
});

describe('what is no date, time or duration', () => {
  it.each([
    ['2023-02-29', parseDate],
    ['2024-13-01', parseDate],
    ['02024-01-01', parseDate],
    ['2024-1-1', parseDate],
    ['24:00:01', parseTime],
    ['12:60:00', parseTime],
    ['12:00', parseTime],
    ['12:00:00+19:00', parseTime],
    ['2024-01-01T', parseDateTime],
    ['999999999-12-31T24:00:00', parseDateTime],
    ['P9007199254740992M', parseDuration],
    ['P', parseDuration],
    ['PT', parseDuration],
    ['P1Y1D', parseDuration],
    ['1D', parseDuration],
    ['P1DT', parseDuration],
  ])('%s', (text, parse) => expect(parse(text)).toBeNull());
  it.each([
    [2024, 2, 30],
    [2024, 0, 1],
    [1e10, 1, 1],
    [2024.5, 1, 1],
    [1900, 2, 29],
  ])('%d-%d-%d', (y, m, d) => expect(makeDate(y, m, d)).toBeNull());
});

describe('durations print and parse', () => {
  it('of days and time', () => {
    fc.assert(
      fc.property(
        fc.bigInt({ min: -(10n ** 20n), max: 10n ** 20n }),
        (nanos) => void expect(parseDuration(temporalText(new DaysDuration(nanos)))).toEqual(new DaysDuration(nanos)),
      ),
    );
  });
  it('of years and months', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -100_000, max: 100_000 }),
        (months) =>
          void expect(parseDuration(temporalText(new YearsDuration(months)))).toEqual(new YearsDuration(months)),
      ),
    );
  });
  it.each([
    ['PT90M', 'PT1H30M'],
    ['P40D', 'P40D'],
    ['P14M', 'P1Y2M'],
    ['-PT0.5S', '-PT0.5S'],
    ['P0M', 'P0M'],
    ['PT0S', 'PT0S'],
  ])('%s is %s', (text, printed) => {
    expect(temporalText(parseDuration(text)!)).toBe(printed);
  });
});

it('the end of a day is the beginning of the next (ISO 8601)', () => {
  expect(temporalText(parseDateTime('2024-12-31T24:00:00')!)).toBe('2025-01-01T00:00:00');
});

/** Days, times and durations as formulas reckon with them, against the Temporal proposal's own polyfill. */
import fc from 'fast-check';
import { Temporal } from 'temporal-polyfill';
import { describe, expect, it } from 'vitest';
import { zoneOffset } from '../../host/zones.ts';
import { zonedMoment } from '../../testing/moments.ts';
import { runsOf } from '../../testing/runs.ts';
import { valueToText } from '../../values/value.ts';
import { createFormula } from '../expression/formula.ts';
import { createScope } from '../expression/scope.ts';

const scope = createScope({ key: 't', name: 'T', plural: 'Ts', title: [], forms: [], fields: [] });
const host = { now: '2026-05-03T09:00:00+01:00', zone: 'Europe/Lisbon', zoneOffset };
function evaluate(text: string): string {
  const formula = createFormula(text, scope);
  if (!formula.evaluate) throw new Error(`${text}: ${formula.diagnostics.map((d) => d.message).join(' ')}`);
  const v = formula.evaluate({ record: [], previous: [], host });
  return v === null ? 'null' : valueToText(v);
}

/** A local time that comes twice is read as the first: the second cannot be written without an offset. */
const zoned = zonedMoment.map((z) => z.toPlainDateTime().toZonedDateTime(z.timeZoneId));
const plain = zoned.map((z) => z.toPlainDateTime());
const written = (z: Temporal.ZonedDateTime): string => `@"${z.toPlainDateTime().toString()}@${z.timeZoneId}"`;
const days = fc.integer({ min: -800, max: 800 });
const seconds = fc.integer({ min: -200_000, max: 200_000 });
const length = (n: number, unit: 'D' | 'S'): string =>
  `duration("${n < 0 ? '-' : ''}P${unit === 'S' ? 'T' : ''}${Math.abs(n)}${unit}")`;
const holds = <T>(property: fc.IProperty<T>): void => fc.assert(property, { numRuns: runsOf(150) });
const iso = (d: Temporal.PlainDate | Temporal.PlainDateTime): string =>
  d instanceof Temporal.PlainDate ? d.toString() : d.toString({ smallestUnit: 'second' });

describe('moments of zones', () => {
  it('come before and after each other as instants do', () => {
    holds(
      fc.property(zoned, zoned, (a, b) => {
        const order = Temporal.Instant.compare(a.toInstant(), b.toInstant());
        expect(evaluate(`[${written(a)} < ${written(b)}, ${written(a)} = ${written(b)}]`)).toBe(
          `[${order < 0}, ${order === 0}]`,
        );
      }),
    );
  });

  it('lie as far apart as instants do', () => {
    holds(
      fc.property(zoned, zoned, (a, b) => {
        const apart = a.toInstant().since(b.toInstant()).total('seconds');
        expect(evaluate(`${written(a)} - ${written(b)} = ${length(apart, 'S')}`)).toBe('true');
      }),
    );
  });

  it('are moved by hours and seconds as time passes, by days by the clock', () => {
    holds(
      fc.property(zoned, days, seconds, (z, d, s) => {
        expect(evaluate(`${written(z)} + ${length(d, 'D')} = ${written(z.add({ days: d }))}`)).toBe('true');
        // What is moved by less than a day is the instant itself, also where its hour comes twice.
        const moved = z.add({ seconds: s % 86_400 });
        expect(
          evaluate(`${written(z)} + ${length(s % 86_400, 'S')} - ${written(z)} = ${length(s % 86_400, 'S')}`),
        ).toBe('true');
        expect(evaluate(`string(${written(z)} + ${length(s % 86_400, 'S')})`)).toBe(
          `${iso(moved.toPlainDateTime())}@${z.timeZoneId}`,
        );
      }),
    );
  });

  it('are a day, a time and an offset', () => {
    holds(
      fc.property(zoned, (z) => {
        const of = (member: string): string => evaluate(`${written(z)}.${member}`);
        expect([of('year'), of('month'), of('day'), of('weekday'), of('hour'), of('minute'), of('second')]).toEqual(
          [z.year, z.month, z.day, z.dayOfWeek, z.hour, z.minute, z.second].map(String),
        );
        expect(evaluate(`date(${written(z)})`)).toBe(iso(z.toPlainDate()));
      }),
    );
  });
});

describe('days', () => {
  const day = plain.map((p) => p.toPlainDate());
  it('are moved by days, weeks, months and years', () => {
    holds(
      fc.property(day, days, (d, n) => {
        expect(evaluate(`add days(@"${iso(d)}", ${n})`)).toBe(iso(d.add({ days: n })));
        const months = `${n < 0 ? '-' : ''}P${Math.abs(n)}M`;
        expect(evaluate(`@"${iso(d)}" + duration("${months}")`)).toBe(iso(d.add({ months: n })));
        expect(evaluate(`@"${iso(d)}" - duration("${months}")`)).toBe(iso(d.subtract({ months: n })));
      }),
    );
  });
  it('lie whole months apart, and days', () => {
    holds(
      fc.property(day, day, (a, b) => {
        const months = a.until(b, { largestUnit: 'months' }).months;
        // DMN 1.3, 10.3.4.5: the months between, whole ones only; Temporal counts them from the first day.
        expect(evaluate(`years and months duration(@"${iso(a)}", @"${iso(b)}") / duration("P1M")`)).toBe(
          String(months),
        );
        expect(evaluate(`(@"${iso(b)}" - @"${iso(a)}") / duration("P1D")`)).toBe(String(a.until(b).days));
      }),
    );
  });
  it('are of a week, a year and a month', () => {
    holds(
      fc.property(day, (d) => {
        const text = `@"${iso(d)}"`;
        const names = [
          ['day of week', d.toLocaleString('en-GB', { weekday: 'long' })],
          ['month of year', d.toLocaleString('en-GB', { month: 'long' })],
          ['day of year', String(d.dayOfYear)],
          ['week of year', String(d.weekOfYear)],
        ] as const;
        for (const [name, expected] of names) expect(evaluate(`${name}(${text})`)).toBe(expected);
        expect(evaluate(`start of(${text}, "month")`)).toBe(iso(d.with({ day: 1 })));
        expect(evaluate(`start of(${text}, "week")`)).toBe(iso(d.subtract({ days: d.dayOfWeek - 1 })));
      }),
    );
  });
  it('working days are all but Saturdays, Sundays and holidays', () => {
    holds(
      fc.property(
        day,
        fc.integer({ min: -30, max: 30 }),
        fc.array(fc.integer({ min: -20, max: 20 }), { maxLength: 4 }),
        (d, n, off) => {
          const holidays = off.map((o) => iso(d.add({ days: o })));
          let at = d;
          const step = Math.sign(n);
          for (let left = Math.abs(n); left > 0;) {
            at = at.add({ days: step });
            if (at.dayOfWeek < 6 && !holidays.includes(iso(at))) left--;
          }
          expect(evaluate(`add working days(@"${iso(d)}", ${n}, [${holidays.map((h) => `@"${h}"`).join()}])`)).toBe(
            iso(at),
          );
        },
      ),
    );
  });
  it('are written by patterns as by Intl', () => {
    holds(
      fc.property(plain, (p) => {
        const shown = (options: Intl.DateTimeFormatOptions): string => p.toLocaleString('en-GB', options);
        expect(evaluate(`as text(@"${iso(p)}", "EEEE")`)).toBe(shown({ weekday: 'long' }));
        expect(evaluate(`as text(@"${iso(p)}", "d MMMM yyyy")`)).toBe(
          shown({ day: 'numeric', month: 'long', year: 'numeric' }),
        );
        expect(evaluate(`as text(@"${iso(p)}", "dd/MM/yyyy")`)).toBe(
          shown({ day: '2-digit', month: '2-digit', year: 'numeric' }),
        );
        expect(evaluate(`as text(@"${iso(p)}", "HH:mm:ss")`)).toBe(
          shown({ hour: '2-digit', minute: '2-digit', second: '2-digit', hourCycle: 'h23' }),
        );
        expect(evaluate(`as text(@"${iso(p)}", "h:mm a")`)).toBe(
          shown({ hour: 'numeric', minute: '2-digit', hourCycle: 'h12' }),
        );
      }),
    );
  });
});

it('numbers are written by patterns as by Intl', () => {
  const number = fc
    .double({ min: -1e9, max: 1e9, noNaN: true, noDefaultInfinity: true })
    .map((n) => Number(n.toFixed(4)));
  holds(
    fc.property(
      number,
      fc.integer({ min: 0, max: 3 }),
      fc.integer({ min: 0, max: 3 }),
      fc.boolean(),
      (n, least, more, grouped) => {
        const pattern = `${grouped ? '#,##0' : '0'}${least + more > 0 ? `.${'0'.repeat(least)}${'#'.repeat(more)}` : ''}`;
        const format = new Intl.NumberFormat('en-US', {
          minimumFractionDigits: least,
          maximumFractionDigits: least + more,
          useGrouping: grouped,
          roundingMode: 'halfEven',
          signDisplay: 'negative',
        } as Intl.NumberFormatOptions);
        expect(evaluate(`as text(${n}, "${pattern}")`)).toBe(format.format(n));
      },
    ),
  );
});

import fc from 'fast-check';
import { Temporal } from 'temporal-polyfill';
import { describe, expect, it } from 'vitest';
import { DaysDuration, FeelTime, instant, parseDateTime, temporalText, YearsDuration } from '../values/calendar.ts';
import { inZone, located, movedInZone } from '../values/zones.ts';
import { zonedMoment } from '../testing/moments.ts';
import { createPatterns } from './patterns.ts';
import { offsetAt, zoneOffset } from './zones.ts';

describe('zones of the machine, against Temporal', () => {
  it('what a zone shows at an instant', () => {
    fc.assert(
      fc.property(zonedMoment, (theirs) => {
        const name = theirs.timeZoneId;
        const ours = inZone(theirs.epochNanoseconds, name, zoneOffset)!;
        expect([temporalText(ours), ours.time.offset]).toEqual([
          `${theirs.toPlainDateTime().toString()}@${name}`,
          theirs.offsetNanoseconds / 1e9,
        ]);
        expect(offsetAt(name, theirs.epochMilliseconds)).toBe(theirs.offsetNanoseconds / 1e9);
      }),
      { numRuns: 400 },
    );
  });

  it('the offset of a local time, the earlier of two, the one before a gap', () => {
    fc.assert(
      fc.property(zonedMoment, (moment) => {
        const name = moment.timeZoneId;
        const earlier = moment.subtract({ hours: 3 });
        const local = earlier.toPlainDateTime().add({ hours: 3 }).toString({ smallestUnit: 'second' });
        const theirs = Temporal.PlainDateTime.from(local).toZonedDateTime(name);
        const shown = theirs.toPlainDateTime().toString({ smallestUnit: 'second' });
        // In a gap Temporal goes on to the time behind it; the offset is that of before.
        if (shown === local) expect(zoneOffset(name, local)).toBe(theirs.offsetNanoseconds / 1e9);
        else expect(zoneOffset(name, local)).toBe(theirs.subtract({ hours: 3 }).offsetNanoseconds / 1e9);
      }),
      { numRuns: 400 },
    );
  });

  it.each<[string, string, number | null]>([
    ['Europe/Nowhere', '2026-05-03T09:00:00', null],
    ['+01:00', '2026-05-03T09:00:00', null],
    ['Europe/Lisbon', 'no time', 0],
    // The seconds of a local mean time, rounded by none.
    ['Africa/Monrovia', '1960-01-01T00:00:00', -2670],
  ])('%s at %s', (name, local, offset) => expect(zoneOffset(name, local)).toBe(offset));

  it('times of day are placed on a day without summer time; a zone that there is not has none', () => {
    const at = (name: string) => located(new FeelTime(0n, null, name), zoneOffset);
    expect(at('America/New_York')).toMatchObject({ offset: -18_000 });
    expect(at('Europe/Nowhere')).toBeNull();
    expect(inZone(0n, 'Europe/Nowhere', zoneOffset)).toBeNull();
  });

  const days = (nanos: bigint) => new DaysDuration(nanos);
  const hour = 3_600_000_000_000n;
  it.each<[string, string, DaysDuration | YearsDuration, string]>([
    // Clocks go forward on 29 March 2026 in Lisbon: a day keeps the time of day, 24 hours do as well, an hour passes.
    ['2026-03-28T12:00:00', 'Europe/Lisbon', days(24n * hour), '2026-03-29T12:00:00'],
    ['2026-03-29T00:30:00', 'Europe/Lisbon', days(hour), '2026-03-29T02:30:00'],
    ['2026-03-28T23:30:00', 'Europe/Lisbon', days(25n * hour + hour), '2026-03-30T01:30:00'],
    ['2026-02-28T09:00:00', 'Europe/Lisbon', new YearsDuration(1), '2026-03-28T09:00:00'],
  ])('%s in %s moved', (from, name, by, expected) => {
    const start = parseDateTime(from)!;
    const moved = movedInZone(start, name, by, zoneOffset)!;
    expect(temporalText(moved)).toBe(`${expected}@${name}`);
    // Against the reference, whole days first.
    const zoned = Temporal.PlainDateTime.from(from).toZonedDateTime(name);
    const nanos = by instanceof DaysDuration ? by.nanos : 0n;
    const theirs =
      by instanceof YearsDuration
        ? zoned.add({ months: by.months })
        : zoned.add({ days: Number(nanos / (24n * hour)) }).add({ hours: Number((nanos % (24n * hour)) / hour) });
    expect(instant(moved) / 1_000_000n).toBe(BigInt(theirs.epochMilliseconds));
    // Without rules of zones it is reckoned as it stands; beyond the calendar there is nothing.
    expect(movedInZone(start, name, by, undefined)).not.toBeNull();
    expect(movedInZone(start, name, new YearsDuration(12e9), zoneOffset)).toBeNull();
    expect(movedInZone(start, 'Europe/Nowhere', by, zoneOffset)).toBeNull();
  });
});

describe('patterns', () => {
  const pattern = createPatterns();
  it.each<[string, string, string, string, string | null]>([
    ['a', '', 'banana', 'o', 'bonono'],
    ['(b)(a)', '', 'banana', '$2$1$3', 'abnana'],
    ['a', '', 'banana', '\\$1', 'b$1n$1n$1'],
    ['(x)?a', '', 'ba', '[$1]', 'b[]'],
    ['B A', 'ix', 'banana', '-', '-nana'],
    ['a', '', 'a'.repeat(30), 'b'.repeat(10), null],
    ['z', '', 'a'.repeat(101), '', null],
  ])('%s with flags %s in %s by %s', (source, flags, text, by, expected) =>
    expect(pattern(source, flags)!.replace(text, by, 100)).toBe(expected),
  );

  it('what is none, is too long or has a flag that there is not', () => {
    expect([pattern('(', ''), pattern('a'.repeat(2001), ''), pattern('a', 'g')]).toEqual([null, null, null]);
  });

  it('empty matches cut nothing', () => {
    expect(pattern('x*', '')!.split('axxb')).toEqual(['a', 'b']);
  });

  it('those asked for last are kept', () => {
    const first = pattern('a', '');
    expect(pattern('a', '')).toBe(first);
    for (let i = 0; i < 200; i++) pattern(`b${i}`, '');
    expect(pattern('a', '')).not.toBe(first);
  });
});

import { expect, it } from 'vitest';
import { nowIn } from './now.ts';

it.each([
  ['Europe/Lisbon', '2026-05-03T08:00:00Z', '2026-05-03T09:00:00+01:00'],
  ['Europe/Lisbon', '2026-12-31T23:30:00.999Z', '2026-12-31T23:30:00+00:00'],
  // Clocks go forward and back within these days of UTC.
  ['Europe/Lisbon', '2026-03-29T00:59:59Z', '2026-03-29T00:59:59+00:00'],
  ['Europe/Lisbon', '2026-03-29T01:00:00Z', '2026-03-29T02:00:00+01:00'],
  ['Europe/Lisbon', '2026-10-25T00:59:59Z', '2026-10-25T01:59:59+01:00'],
  ['Europe/Lisbon', '2026-10-25T01:00:00Z', '2026-10-25T01:00:00+00:00'],
  ['Asia/Kathmandu', '2026-01-01T00:00:00Z', '2026-01-01T05:45:00+05:45'],
  ['America/St_Johns', '2026-01-01T00:00:00Z', '2025-12-31T20:30:00-03:30'],
  // Until a quarter to one of that day, by the time zone database.
  ['Africa/Monrovia', '1972-01-07T00:44:29Z', '1972-01-06T23:59:59-00:44:30'],
  ['Africa/Monrovia', '1972-01-07T00:44:30Z', '1972-01-07T00:44:30+00:00'],
  ['UTC', '2026-01-01T00:00:00Z', '2026-01-01T00:00:00+00:00'],
])('in %s at %s the clock shows %s', (zone, at, shown) => {
  expect(nowIn(zone, new Date(at))).toBe(shown);
});

it('a zone that there is not is told', () => {
  expect(() => nowIn('Somewhere/Else')).toThrow('There is no time zone Somewhere/Else.');
});

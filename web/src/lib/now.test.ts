import { expect, it } from 'vitest';
import { nowIn } from './now.ts';

it.each([
  ['Europe/Lisbon', '2026-05-03T08:00:00Z', '2026-05-03T09:00:00+01:00'],
  ['Europe/Lisbon', '2026-12-31T23:30:00Z', '2026-12-31T23:30:00+00:00'],
  ['Asia/Kathmandu', '2026-01-01T00:00:00Z', '2026-01-01T05:45:00+05:45'],
  ['America/St_Johns', '2026-01-01T00:00:00Z', '2025-12-31T20:30:00-03:30'],
])('in %s at %s the clock shows %s', (zone, at, shown) => {
  expect(nowIn(zone, new Date(at))).toBe(shown);
});

it('shows another second once it has come, and another zone at the same', () => {
  const at = (ms: number, zone = 'Europe/Lisbon') =>
    nowIn(zone, new Date(Date.parse('2026-05-03T08:00:00Z') + ms)).slice(11, 19);
  expect([at(0), at(999), at(1000), at(0), at(0, 'Asia/Kathmandu')]).toEqual([
    '09:00:00',
    '09:00:00',
    '09:00:01',
    '09:00:00',
    '13:45:00',
  ]);
});

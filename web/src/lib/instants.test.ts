import { describe, expect, it } from 'vitest';
import { localInput, shownInstant, typedInstant, withOffset } from './instants.ts';
import { writtenForm } from './locale.ts';

const form = writtenForm({ tag: 'en-GB', currency: 'EUR' });

const lisbon = 'Europe/Lisbon';

describe('instants in the zone of the organisation', () => {
  it.each([
    ['2026-05-03T08:00:00Z', '2026-05-03T09:00', '3 May 2026, 09:00'],
    ['2026-01-03T08:00:00Z', '2026-01-03T08:00', '3 Jan 2026, 08:00'],
    // On 29 March 2026 clocks go from 01:00 to 02:00, on 25 October from 02:00 back to 01:00 (EU directive 2000/84/EC).
    ['2026-03-29T00:59:00Z', '2026-03-29T00:59', '29 Mar 2026, 00:59'],
    ['2026-03-29T01:00:00Z', '2026-03-29T02:00', '29 Mar 2026, 02:00'],
    ['2026-10-25T00:30:00Z', '2026-10-25T01:30', '25 Oct 2026, 01:30'],
    ['2026-10-25T01:30:00Z', '2026-10-25T01:30', '25 Oct 2026, 01:30'],
    // The day there is not the day in UTC.
    ['2026-07-31T23:30:00Z', '2026-08-01T00:30', '1 Aug 2026, 00:30'],
  ])('%s', (stored, local, shown) => {
    expect([localInput(stored, lisbon), shownInstant(stored, lisbon, form)]).toEqual([local, shown]);
  });

  it.each([
    ['2026-05-03T09:00', '2026-05-03T08:00:00.000Z'],
    ['2026-01-03T08:00', '2026-01-03T08:00:00.000Z'],
    ['2026-03-29T02:00', '2026-03-29T01:00:00.000Z'],
    // A time that comes twice is the earlier one; one that is skipped is read with the offset before the gap.
    ['2026-10-25T01:30', '2026-10-25T00:30:00.000Z'],
    ['2026-03-29T01:30', '2026-03-29T01:30:00.000Z'],
  ])('%s as it is typed', (local, instant) => {
    expect(new Date(withOffset(local, lisbon)).toISOString()).toBe(instant);
  });

  it.each([
    ['3 May 2026, 09:00', '2026-05-03T09:00:00+01:00'],
    ['3/5/2026 9:05', '2026-05-03T09:05:00+01:00'],
    ['2026-05-03T09:00', '2026-05-03T09:00:00+01:00'],
    ['2026-01-03 12:30 am', '2026-01-03T00:30:00+00:00'],
    ['3/1/2026 3:15 p.m.', '2026-01-03T15:15:00+00:00'],
    ['2026-05-03T08:00:00Z', '2026-05-03T08:00:00Z'],
    ['3 May 2026', '3 May 2026'],
    ['3/5/2026 25:00', '3/5/2026 25:00'],
    ['soon', 'soon'],
  ])('%s is typed', (typed, taken) => {
    expect(typedInstant(typed, lisbon, form)).toBe(taken);
  });

  it('what is no instant is shown as it is', () => {
    expect([localInput('soon', lisbon), shownInstant('soon', lisbon, form)]).toEqual(['', 'soon']);
  });
});

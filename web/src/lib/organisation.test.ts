import { afterEach, describe, expect, it } from 'vitest';
import { organisation, ownDay } from './organisation.svelte.ts';

const usual = { ...organisation };
afterEach(() => Object.assign(organisation, usual));

describe('a day is told with its year where that is not the present one', () => {
  it.each([
    ['UTC', 'en-GB', '2026-03-12T10:00:00Z', '12 Mar'],
    ['UTC', 'en-GB', '2025-03-12T10:00:00Z', '12 Mar 2025'],
    ['UTC', 'de-DE', '2025-03-12T10:00:00Z', '12. März 2025'],
    // Another day, and another year, where the organisation is.
    ['Pacific/Auckland', 'en-GB', '2025-12-31T12:00:00Z', '1 Jan'],
    ['America/Lima', 'en-GB', '2026-01-01T03:00:00Z', '31 Dec 2025'],
  ])('%s, %s: %s is %s', (zone, locale, at, told) => {
    Object.assign(organisation, { zone, locale });
    expect(ownDay(new Date(at), new Date('2026-11-28T12:00:00Z'))).toBe(told);
  });
});

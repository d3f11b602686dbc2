import { afterEach, describe, expect, it } from 'vitest';
import { organisation } from '$lib/organisation.svelte.ts';
import { orNothing, readName } from '$lib/ui/typed.ts';
import { numberReader, readDay, instantReader } from './readers.ts';

const usual = { ...organisation };
afterEach(() => Object.assign(organisation, usual));

const readInstant = instantReader('Europe/Lisbon');
const anyNumber = numberReader();
const decimals = numberReader({ whole: true, min: -1, max: 10 });

describe('what is typed is a value, or said why it is none', () => {
  it.each([
    ['en-GB', anyNumber, ' -1,000.5 ', -1000.5],
    ['de-DE', anyNumber, '1.500', 1500],
    ['de-DE', anyNumber, '0,5', 0.5],
    ['en-GB', anyNumber, 'abc', 'abc is not a number'],
    ['en-GB', anyNumber, '1e400', '1e400 has more than 15 digits'],
    ['en-GB', anyNumber, '', 'Enter a number'],
    ['en-GB', decimals, '2', 2],
    ['en-GB', decimals, '2.5', '2.5 is not a whole number'],
    ['en-GB', decimals, '99', '99 is above 10'],
    ['en-GB', decimals, '-3', '-3 is below −1'],
    ['en-GB', orNothing(decimals), ' ', undefined],
    ['en-GB', orNothing(decimals), 'x', 'x is not a number'],
    ['en-GB', readDay, '3/5/2026', '2026-05-03'],
    ['en-GB', readDay, '', ''],
    ['en-GB', readDay, '31/2/2026', '31/2/2026 is not a day such as 3 May 2026'],
    ['en-GB', readInstant, '3 May 2026, 09:00', '2026-05-03T09:00:00+01:00'],
    ['en-GB', readInstant, '2026-01-03T09:00:00Z', '2026-01-03T09:00:00+00:00'],
    // A number alone would be read as a month by `Date`.
    ['en-GB', readInstant, '5', '5 is not a day with a time, such as 3 May 2026, 09:00'],
    ['en-GB', readInstant, '', 'Enter a day with a time, such as 3 May 2026, 09:00'],
    [
      'en-GB',
      readInstant,
      '2026-05-03T29:00:00Z',
      '2026-05-03T29:00:00Z is not a day with a time, such as 3 May 2026, 09:00',
    ],
    ['en-GB', readName, '  ', 'Enter a name'],
    ['en-GB', readName, 'Weight ', 'Weight '],
  ] as const)('%s %o %j', (locale, read, typed, expected) => {
    Object.assign(organisation, { locale });
    const found = read(typed);
    expect('problem' in found ? found.problem : found.value).toBe(expected);
  });
});

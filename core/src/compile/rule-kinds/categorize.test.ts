import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dealBook } from '../../testing/deals.ts';
import { plainWriting } from '../../language/types/writing.ts';
import { sentenceWords } from '../../language/wording/words.ts';
import { german } from '../../testing/german.ts';
import { categorize } from './categorize.ts';
import { bandText, findBand, meet, place, type Band } from './bands.ts';

describe('bands', () => {
  it('binary search finds what looking at each band finds', () => {
    const cuts = fc.uniqueArray(fc.integer({ min: -100, max: 100 }), { minLength: 1, maxLength: 8 });
    fc.assert(
      fc.property(
        cuts,
        fc.array(fc.boolean(), { minLength: 8, maxLength: 8 }),
        fc.integer({ min: -110, max: 110 }),
        (all, upper, n) => {
          const sorted = [...all].sort((a, b) => a - b);
          const bands = sorted.slice(1).map((to, i): Band => ({
            from: sorted[i]!,
            to,
            result: i,
            fromOpen: !upper[i % 8],
            toClosed: !upper[(i + 1) % 8],
          }));
          expect(findBand(n, bands)).toBe(bands.findIndex((b) => place(n, b) === 'inside'));
        },
      ),
    );
  });

  it.each<[Band, Band, string]>([
    [{ from: 0, to: 10, result: 'a' }, { from: 10, result: 'b' }, 'touch'],
    [{ from: 0, to: 10, toClosed: true, result: 'a' }, { from: 10, fromOpen: true, result: 'b' }, 'touch'],
    [{ from: 0, to: 10, toClosed: true, result: 'a' }, { from: 10, result: 'b' }, 'overlap'],
    [{ from: 0, to: 10, result: 'a' }, { from: 10, fromOpen: true, result: 'b' }, 'gap'],
    [{ from: 0, to: 9, result: 'a' }, { from: 10, result: 'b' }, 'gap'],
    [{ from: 0, result: 'a' }, { from: 10, result: 'b' }, 'overlap'],
  ])('%o and %o: %s', (lower, upper, meeting) => {
    expect(meet(lower, upper)).toBe(meeting);
  });

  it('read as people say them', () => {
    expect(
      [
        { from: 1000, result: 1 },
        { from: 0, to: 10, result: 1 },
        { to: 5, toClosed: true, result: 1 },
        { result: 1 },
      ].map((b) => bandText(b, false, plainWriting)),
    ).toEqual(['from 1,000', 'from 0, below 10', 'up to 5', 'every number']);
  });
});

describe('what an edit of a categorize rule changed', () => {
  const bands = [
    { from: 0, to: 10, result: 'micro' },
    { from: 10, to: 20, result: 'small' },
    { from: 20, to: 30, result: 'large' },
  ];
  const usual = { source: 'Open deal value', target: 'size', bands, blank: { do: 'clear' }, outside: { do: 'leave' } };
  const days = {
    ...usual,
    source: 'Reviewed on',
    bands: [
      { to: '2026-01-01', result: 'micro' },
      { from: '2026-01-01', result: 'large' },
    ],
  };
  const grouped = {
    ...usual,
    bands: undefined,
    source: 'Currency',
    groups: [{ values: ['EUR', 'GBP'], result: 'small' }],
  };
  const withBands = (...changes: readonly object[]) => ({
    ...usual,
    bands: bands.map((b, i) => ({ ...b, ...changes[i] })),
  });
  const customer = dealBook([]).recordTypes.find((t) => t.key === 'customer')!;

  it.each<[what: string, before: object, after: object, said: readonly string[]]>([
    ['a boundary moved', usual, withBands({ to: 12 }, { from: 12 }), ['boundary 10 → 12, where Small begins']],
    [
      'a boundary given to the band below',
      usual,
      withBands({ toClosed: true }, { fromOpen: true }),
      ['boundary 10 now belongs to the band below it'],
    ],
    [
      'and back',
      withBands({ toClosed: true }, { fromOpen: true }),
      usual,
      ['boundary 10 now belongs to the band above it, Small'],
    ],
    ['the last end moved', usual, withBands({}, {}, { to: 40 }), ['end of Large 30 → 40']],
    ['the last end taken away', usual, withBands({}, {}, { to: undefined }), ['end of Large 30 → none']],
    ['the last end taken in', usual, withBands({}, {}, { toClosed: true }), ['end of Large: 30 now belongs to it']],
    ['and left out', withBands({}, {}, { toClosed: true }), usual, ['end of Large: 30 now does not belong to it']],
    [
      'the first beginning left out',
      usual,
      withBands({ fromOpen: true }),
      ['beginning of Micro: 0 now does not belong to it'],
    ],
    [
      'a boundary between days',
      days,
      {
        ...days,
        bands: [
          { to: '2026-02-01', result: 'micro' },
          { from: '2026-02-01', result: 'large' },
        ],
      },
      ['boundary 2026-01-01 → 2026-02-01, where Large begins'],
    ],
    [
      'a band taken out',
      usual,
      { ...usual, bands: bands.slice(0, 2) },
      [
        'bands Micro from 0, below 10; Small from 10, below 20; Large from 20, below 30 → Micro from 0, below 10; Small from 10, below 20',
      ],
    ],
    [
      'a group with one more',
      grouped,
      { ...grouped, groups: [{ values: ['EUR', 'GBP', 'CHF'], result: 'small' }] },
      ['groups Small EUR, GBP → Small EUR, GBP, CHF'],
    ],
    [
      'source and target',
      usual,
      { ...usual, source: 'Postcode', target: 'region' },
      ['source Open deal value → Postcode', 'target Size class → Region'],
    ],
    [
      'what happens otherwise',
      usual,
      { ...usual, blank: { do: 'set', value: 'micro' }, outside: { do: 'stop', message: 'No.' } },
      ['blank cleared → set to Micro', 'outside left as it is → not saved, with “No.”'],
    ],
    ['nothing', usual, structuredClone(usual), []],
  ])('%s', (_, before, after, said) => {
    expect(categorize.differences(before, after, customer, sentenceWords(customer))).toEqual(said);
  });
});

it('bands and days are told as the reader writes them', () => {
  const customer = dealBook([]).recordTypes.find((t) => t.key === 'customer')!;
  const words = sentenceWords(customer, { recordTypes: [customer] }, german);
  const bands = (low: number | string, high: number | string): unknown => ({
    source: 'Employee count',
    target: 'size_class',
    bands: [{ from: low, to: high, result: 'x' }],
    blank: { do: 'leave' },
    outside: { do: 'leave' },
  });
  expect(categorize.clauses(bands(1000, 2500.5), customer, words)[0]).toContain('from 1.000, below 2.500,5');
  expect(categorize.clauses(bands('2026-05-03', '2026-06-01'), customer, words)[0]).toContain('from 03.05.2026');
  expect(categorize.differences(bands(1000, 2000), bands(1000, 2500.5), customer, words).join()).toContain('2.500,5');
  expect(categorize.branchText!(bands(1000, 2000), 0, german)).toBe('from 1.000, below 2.000');
  expect([words.value('1234.5'), words.condition('1234.5 > 2')]).toEqual(['1.234,5', '1234.5 > 2']);
});

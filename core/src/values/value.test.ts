/** Values of every kind: what is equal, what is one key, how they are ordered and written. */
import Decimal from 'decimal.js';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { runsOf } from '../testing/runs.ts';
import { DaysDuration, FeelDate, FeelDateTime, FeelTime, YearsDuration } from './calendar.ts';
import {
  equalValues,
  FeelFunction,
  FeelRange,
  identityOf,
  inRange,
  isBlank,
  longestValueText,
  orderValues,
  RecordRef,
  valueToText,
  type Value,
} from './value.ts';

const hour = 3_600_000_000_000n;
const plain: readonly Value[] = [
  null,
  0,
  1,
  1.5,
  new Decimal('1.5'),
  new Decimal('1e30'),
  new Decimal('10e29'),
  true,
  false,
  '',
  'a',
  '1',
  new FeelDate(2026, 5, 3),
  new FeelDate(2026, 5, 4),
  new FeelTime(9n * hour),
  new FeelTime(9n * hour, 0),
  new FeelTime(10n * hour, 3600),
  new FeelDateTime(new FeelDate(2026, 5, 3), new FeelTime(9n * hour)),
  new FeelDateTime(new FeelDate(2026, 5, 3), new FeelTime(9n * hour, 0)),
  new FeelDateTime(new FeelDate(2026, 5, 3), new FeelTime(10n * hour, 3600)),
  new DaysDuration(hour),
  new DaysDuration(24n * hour),
  new YearsDuration(12),
  new YearsDuration(-1),
  new RecordRef('deal', '1'),
  new RecordRef('deal', '2'),
  new RecordRef('customer', '1'),
];
const { value } = fc.letrec<{ value: Value }>((tie) => ({
  value: fc.oneof(
    { maxDepth: 3, withCrossShrink: true },
    fc.constantFrom(...plain),
    fc.array(tie('value'), { maxLength: 3 }),
    fc
      .dictionary(fc.constantFrom('a', 'b', 'c d'), tie('value'), { maxKeys: 3 })
      .map((o) => new Map(Object.entries(o))),
    fc
      .tuple(fc.constantFrom(...plain), fc.constantFrom(...plain), fc.boolean(), fc.boolean())
      .map(([low, high, a, b]) => new FeelRange(low, high, a, b)),
  ),
}));

it('two values share a key just where they are equal', () => {
  fc.assert(
    fc.property(value, value, (a, b) => {
      const equal = equalValues(a, b) === true;
      expect(identityOf(a) === identityOf(b)).toBe(equal);
      expect(equalValues(b, a) === true).toBe(equal);
      expect(equalValues(a, a)).toBe(true);
    }),
    { numRuns: runsOf(4000) },
  );
});

it('an order is one way round, and equal values stand nowhere apart', () => {
  fc.assert(
    fc.property(value, value, (a, b) => {
      const order = orderValues(a, b);
      expect(orderValues(b, a)).toBe(order === null ? null : order === 0 ? 0 : -order);
      if (order === 0) expect(equalValues(a, b)).toBe(true);
    }),
    { numRuns: runsOf(2000) },
  );
});

const f = new FeelFunction(['x', 'y'], () => 1);
it.each<[string, Value, string | undefined, string]>([
  ['a function is equal to nothing, nor is a list of it', f, undefined, 'function(x, y)'],
  ['a list', [f], undefined, '[function(x, y)]'],
  ['a range of it', new FeelRange(f, 1, true, true), undefined, '[function(x, y)..1]'],
  ['a range without a lower end', new FeelRange(null, 5, false, true), 'r00..n51', '(<= 5)'],
  ['one without an upper end', new FeelRange(5, null, true, false), 'r1n5..00', '(>= 5)'],
  ['one that has neither of its ends', new FeelRange(1, 2, false, false), 'r0n1..n20', '(1..2)'],
  ['one above', new FeelRange(5, null, false, false), 'r0n5..00', '(> 5)'],
  ['one below', new FeelRange(null, 5, false, false), 'r00..n50', '(< 5)'],
  [
    'one of days',
    new FeelRange(new FeelDate(2026, 1, 1), new FeelDate(2026, 1, 2), true, false),
    undefined,
    '[@"2026-01-01"..@"2026-01-02")',
  ],
  ['a record', new RecordRef('deal', '7'), 'kdeal:7', '7'],
  ['a duration of months', new YearsDuration(14), 'y14', 'P1Y2M'],
  ['blank', null, '0', 'blank'],
])('%s', (_, v, key, text) => {
  if (key !== undefined || v instanceof FeelFunction) expect(identityOf(v)).toBe(key);
  expect(valueToText(v)).toBe(text);
});

describe('texts of values', () => {
  it('end where nobody reads on', () => {
    const long = valueToText(['x'.repeat(longestValueText), 'y', 'z']);
    expect(long).toHaveLength(longestValueText + 1);
    expect(long.endsWith('…')).toBe(true);
    let deep: Value = 1;
    for (let i = 0; i < 200; i++) deep = [deep];
    expect(valueToText(deep)).toMatch(/^\[{101}…\]+$/);
    expect(valueToText(Array.from({ length: longestValueText }, () => 1))).toMatch(/…$/);
  });

  it('keys of contexts stand in quotation marks where they are no names', () => {
    expect(
      valueToText(
        new Map<string, Value>([
          ['a b', 1],
          ['1', 'x'],
          ['-', null],
        ]),
      ),
    ).toBe('{a b: 1, "1": "x", "-": null}');
  });
});

it.each<[Value, FeelRange, boolean | null]>([
  [5, new FeelRange(5, null, true, false), true],
  [5, new FeelRange(5, null, false, false), false],
  [5, new FeelRange(null, 5, false, true), true],
  ['a', new FeelRange(1, 5, true, true), null],
  [null, new FeelRange(1, 5, true, true), null],
])('%s in a range: %s', (v, range, holds) => {
  expect(inRange(v, range)).toBe(holds);
});

it('blank is what nobody sees', () => {
  expect([null, '', ' \u200b', [], 0, false, [null]].map((v) => isBlank(v))).toEqual([
    true,
    true,
    true,
    true,
    false,
    false,
    false,
  ]);
});

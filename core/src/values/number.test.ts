import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  add,
  compareNumbers,
  Decimal,
  divide,
  multiply,
  numberToText,
  parseNumber,
  round,
  subtract,
  toDecimal,
  type Num,
} from './number.ts';

const shortDecimal = fc
  .tuple(fc.bigInt({ min: -999_999_999_999_999n, max: 999_999_999_999_999n }), fc.integer({ min: -20, max: 12 }))
  .map(([digits, exponent]) => parseNumber(`${digits}E${exponent}`)!);
const text = (n: Num | null): string => (n === null ? 'null' : numberToText(n));

describe('decimal arithmetic', () => {
  it.each([
    ['0.1 + 0.2', add(0.1, 0.2), '0.3'],
    ['0.3 - 0.1', subtract(0.3, 0.1), '0.2'],
    ['1.1 * 1.1', multiply(1.1, 1.1), '1.21'],
    ['4.35 * 100', multiply(4.35, 100), '435'],
    ['1 / 3', divide(1, 3), '0.3333333333333333333333333333333333'],
    ['2 / 3', divide(2, 3), '0.6666666666666666666666666666666667'],
    ['1 / 0', divide(1, 0), 'null'],
    ['999999999999999 + 1', add(999_999_999_999_999, 1), '1000000000000000'],
    ['1e15 + 0.1', add(parseNumber('1e15')!, 0.1), '1000000000000000.1'],
  ])('%s is exact', (_, result, expected) => {
    expect(text(result)).toBe(expected);
  });

  // The reference is decimal.js itself, used plainly with DMN's 34 digits, half-even.
  it.each([
    ['plus', add],
    ['minus', subtract],
    ['times', multiply],
  ] as const)('%s gives what a decimal library gives', (op, fast) => {
    fc.assert(
      fc.property(shortDecimal, shortDecimal, (a, b) => {
        const expected = toDecimal(a)[op](toDecimal(b));
        expect(toDecimal(fast(a, b)!).equals(expected)).toBe(true);
      }),
      { numRuns: 2000 },
    );
  });

  it('keeps one form for equal numbers, so that they compare as plain values', () => {
    fc.assert(
      fc.property(shortDecimal, shortDecimal, (a, b) => {
        const there = subtract(add(a, b)!, b)!;
        const exact = toDecimal(a).plus(toDecimal(b)).minus(toDecimal(b));
        if (exact.equals(toDecimal(a))) expect(there).toEqual(a);
      }),
    );
  });

  it('orders as decimals', () => {
    fc.assert(
      fc.property(shortDecimal, shortDecimal, (a, b) => {
        expect(Math.sign(compareNumbers(a, b))).toBe(toDecimal(a).comparedTo(toDecimal(b)));
      }),
    );
  });
});

// Java SE, java.math.RoundingMode: the table "Result of rounding input to one digit with the given mode". From memory.
describe('rounding to a whole number', () => {
  const inputs = ['5.5', '2.5', '1.6', '1.1', '1.0', '-1.0', '-1.1', '-1.6', '-2.5', '-5.5'] as const;
  it.each([
    ['up', [6, 3, 2, 2, 1, -1, -2, -2, -3, -6]],
    ['down', [5, 2, 1, 1, 1, -1, -1, -1, -2, -5]],
    ['ceiling', [6, 3, 2, 2, 1, -1, -1, -1, -2, -5]],
    ['floor', [5, 2, 1, 1, 1, -1, -2, -2, -3, -6]],
    ['half-up', [6, 3, 2, 1, 1, -1, -1, -2, -3, -6]],
    ['half-down', [5, 2, 2, 1, 1, -1, -1, -2, -2, -5]],
    ['half-even', [6, 2, 2, 1, 1, -1, -1, -2, -2, -6]],
  ] as const)('%s', (mode, expected) => {
    expect(inputs.map((i) => round(parseNumber(i)!, 0, mode))).toEqual(expected);
  });

  it('rounds what stands there, not its nearest double: 1.005 half up is 1.01', () => {
    expect(round(parseNumber('1.005')!, 2, 'half-up')).toBe(1.01);
    expect(round(parseNumber('2.675')!, 2, 'half-up')).toBe(2.68);
  });
});

describe('reading numbers', () => {
  it.each([
    ['1E3', '1000'],
    ['.5', '0.5'],
    ['-0', '0'],
    ['0.1000', '0.1'],
    ['1e-7', '1e-7'],
    ['12345678901234567890', '12345678901234567890'],
    ['1e7000', 'null'],
    ['1,5', 'null'],
    ['', 'null'],
    ['1e', 'null'],
    ['0x10', 'null'],
  ])('%s is %s', (source, expected) => {
    expect(text(parseNumber(source))).toBe(expected);
  });

  it('print and parse round-trip', () => {
    fc.assert(fc.property(shortDecimal, (n) => void expect(parseNumber(numberToText(n))).toEqual(n)));
    expect(new Decimal(1).div(3).toString()).toBe(numberToText(divide(1, 3)!));
  });
});

import { DaysDuration, YearsDuration } from '../../values/calendar.ts';
import { anyType, numberType } from '../types/types.ts';
import {
  add,
  compareNumbers,
  Decimal,
  decimalPrice,
  isNumber,
  isZero,
  negate,
  normalize,
  round,
  toDecimal,
  type BigDecimal,
  type Num,
  type Rounding,
} from '../../values/number.ts';
import type { Value } from '../../values/value.ts';
import type { LanguageFunction } from './function.ts';

const n = { name: 'n', type: numberType };
const scale = { name: 'scale', type: numberType };
const mostScale = 6111;
/** Steps of rounding, and of functions that the decimal library works out by series. */
const roundPrice = decimalPrice;
const seriesPrice = 2_000;

const rounded =
  (mode: Rounding) =>
  ([v, decimals]: readonly Value[]): Value => {
    if (!isNumber(v)) return null;
    if (decimals === undefined) return round(v, 0, mode);
    return typeof decimals === 'number' && Number.isInteger(decimals) && Math.abs(decimals) <= mostScale
      ? round(v, decimals, mode)
      : null;
  };

function rounding(
  name: string,
  mode: Rounding,
  help: string,
  examples: LanguageFunction['examples'],
  scaleOptional = false,
): LanguageFunction {
  const parameters = [n, scaleOptional ? ({ ...scale, optional: true } as const) : scale];
  return { name, parameters, result: numberType, help, examples, work: roundPrice, evaluate: rounded(mode) };
}

function onOne(
  name: string,
  help: string,
  examples: LanguageFunction['examples'],
  compute: (v: Num) => Num | null,
  parameter = 'number',
): LanguageFunction {
  return {
    name,
    parameters: [{ name: parameter, type: numberType }],
    result: numberType,
    help,
    examples,
    work: seriesPrice,
    evaluate: ([v]) => (isNumber(v ?? null) ? compute(v as Num) : null),
  };
}

/** Digits and exponent of a number: `n = digits * 10 ** exponent`. */
function scaled(n: Num): { readonly digits: bigint; readonly exponent: number } {
  const d = toDecimal(n);
  const [mantissa = '', exponent = '0'] = d.toExponential().split('e');
  const [whole = '', fraction = ''] = mantissa.split('.');
  return { digits: BigInt(whole + fraction), exponent: Number(exponent) - fraction.length };
}

/** `base ** exponent` modulo `by`, by squaring. */
function powerModulo(base: bigint, exponent: number, by: bigint): bigint {
  let result = 1n;
  for (let [square, left] = [base % by, exponent]; left > 0; left = Math.floor(left / 2)) {
    if (left % 2 === 1) result = (result * square) % by;
    square = (square * square) % by;
  }
  return result;
}

/**
 * The remainder with the sign of the divisor, `dividend - divisor * floor(dividend / divisor)` (DMN 1.3, 10.3.4.5), in
 * whole numbers and rounded once: a quotient of more digits than a number holds loses nothing.
 */
function modulo(a: Num, b: Num): Num | null {
  if (isZero(b)) return null;
  if (Number.isSafeInteger(a) && Number.isSafeInteger(b)) {
    const rest = (a as number) % (b as number);
    return rest === 0 ? 0 : rest < 0 !== (b as number) < 0 ? rest + (b as number) : rest;
  }
  const [x, y] = [scaled(a), scaled(b)];
  // A divisor this far above the dividend leaves it whole; nearer ones are brought to one exponent.
  const unit = y.exponent - x.exponent > mostDigits ? undefined : Math.min(x.exponent, y.exponent);
  if (unit === undefined) {
    if (isZero(a)) return 0;
    return compareNumbers(a, 0) < 0 === compareNumbers(b, 0) < 0 ? a : add(a, b);
  }
  const divisor = y.digits * 10n ** BigInt(y.exponent - unit);
  const size = divisor < 0n ? -divisor : divisor;
  let rest = ((x.digits % size) * powerModulo(10n, x.exponent - unit, size)) % size;
  if (rest !== 0n && rest < 0n !== divisor < 0n) rest += divisor;
  return normalize(new Decimal(`${rest}e${unit}`).plus(0));
}

/** More digits than a number holds. */
const mostDigits = 40;

const transcendental =
  (compute: (d: BigDecimal) => BigDecimal) =>
  (v: Num): Num | null => {
    const d = toDecimal(v);
    return d.abs().greaterThan(1e5) && compute === exponential ? null : normalize(compute(d));
  };
const exponential = (d: BigDecimal): BigDecimal => d.exp();
const remainder = (v: Num): BigDecimal => new Decimal(toDecimal(v)).mod(2).abs();

export const numericFunctions: readonly LanguageFunction[] = [
  rounding('decimal', 'half-even', 'Rounded to so many decimals, half to the even neighbour.', [
    ['decimal(1/3, 2)', 0.33],
    ['decimal(1.5, 0)', 2],
    ['decimal(2.5, 0)', 2],
    ['decimal(1.005, 2)', 1],
  ]),
  rounding(
    'floor',
    'floor',
    'The largest number with so many decimals (none unless said) that is not above it.',
    [
      ['floor(1.5)', 1],
      ['floor(-1.56, 1)', -1.6],
    ],
    true,
  ),
  rounding(
    'ceiling',
    'ceiling',
    'The smallest number with so many decimals (none unless said) that is not below it.',
    [
      ['ceiling(1.5)', 2],
      ['ceiling(-1.56, 1)', -1.5],
    ],
    true,
  ),
  rounding('round up', 'up', 'Rounded to so many decimals, away from zero.', [
    ['round up(5.5, 0)', 6],
    ['round up(-1.126, 2)', -1.13],
  ]),
  rounding('round down', 'down', 'Rounded to so many decimals, towards zero.', [
    ['round down(5.5, 0)', 5],
    ['round down(-1.126, 2)', -1.12],
  ]),
  rounding('round half up', 'half-up', 'Rounded to so many decimals, half away from zero.', [
    ['round half up(1.005, 2)', 1.01],
    ['round half up(-5.5, 0)', -6],
  ]),
  rounding('round half down', 'half-down', 'Rounded to so many decimals, half towards zero.', [
    ['round half down(5.5, 0)', 5],
    ['round half down(1.126, 2)', 1.13],
  ]),
  {
    name: 'abs',
    parameters: [{ name: 'n', type: anyType }],
    result: ([args]) => args ?? numberType,
    help: 'The number or duration without its sign.',
    examples: [
      ['abs(-10)', 10],
      ['abs(duration("-P1Y"))', new YearsDuration(12)],
      ['abs(null)', null],
    ],
    work: 1,
    evaluate([v = null]) {
      if (isNumber(v)) return compareNumbers(v, 0) < 0 ? negate(v) : v;
      if (v instanceof DaysDuration) return v.nanos < 0n ? new DaysDuration(-v.nanos) : v;
      return v instanceof YearsDuration ? new YearsDuration(Math.abs(v.months)) : null;
    },
  },
  {
    name: 'modulo',
    parameters: [
      { name: 'dividend', type: numberType },
      { name: 'divisor', type: numberType },
    ],
    result: numberType,
    help: 'The remainder of a division, with the sign of the divisor.',
    examples: [
      ['modulo(12, 5)', 2],
      ['modulo(-12, 5)', 3],
      ['modulo(12, -5)', -3],
      ['modulo(10.1, 4.5)', 1.1],
      ['modulo(1, 0)', null],
    ],
    work: 4 * decimalPrice,
    evaluate: ([a, b]) => (isNumber(a) && isNumber(b) ? modulo(a, b) : null),
  },
  onOne(
    'sqrt',
    'The square root; blank below 0.',
    [
      ['sqrt(16)', 4],
      ['sqrt(-1)', null],
    ],
    transcendental((d) => d.sqrt()),
  ),
  onOne(
    'log',
    'The natural logarithm; blank for 0 and below.',
    [
      ['decimal(log(10), 8)', 2.30258509],
      ['log(0)', null],
    ],
    (v) => (compareNumbers(v, 0) > 0 ? normalize(toDecimal(v).ln()) : null),
  ),
  onOne(
    'exp',
    'Euler’s number to the power of it.',
    [
      ['decimal(exp(5), 8)', 148.4131591],
      ['exp(0)', 1],
    ],
    transcendental(exponential),
  ),
  {
    name: 'odd',
    parameters: [{ name: 'number', type: numberType }],
    result: { kind: 'boolean' },
    help: 'Whether a whole number is odd.',
    examples: [
      ['odd(5)', true],
      ['odd(2)', false],
      ['odd(-1)', true],
    ],
    work: decimalPrice,
    evaluate: ([v]) => (isNumber(v ?? null) ? remainder(v as Num).equals(1) : null),
  },
  {
    name: 'even',
    parameters: [{ name: 'number', type: numberType }],
    result: { kind: 'boolean' },
    help: 'Whether a whole number is even.',
    examples: [
      ['even(5)', false],
      ['even(2)', true],
      ['even(0)', true],
    ],
    work: decimalPrice,
    evaluate: ([v]) => (isNumber(v ?? null) ? remainder(v as Num).isZero() : null),
  },
];

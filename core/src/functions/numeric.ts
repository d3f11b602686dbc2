import { numberType } from '../expression/types.ts';
import { compareNumbers, isNumber, negate, round, type Num, type Rounding } from '../values/number.ts';
import type { Value } from '../values/value.ts';
import type { LanguageFunction } from './function.ts';

const whole =
  (mode: Rounding) =>
  ([n, scale]: readonly Value[]): Value => {
    if (!isNumber(n)) return null;
    if (scale === undefined) return round(n, 0, mode);
    return typeof scale === 'number' && Number.isInteger(scale) && Math.abs(scale) <= 6111
      ? round(n, scale, mode)
      : null;
  };

const n = { name: 'n', type: numberType };

export const numericFunctions: readonly LanguageFunction[] = [
  {
    name: 'abs',
    parameters: [n],
    result: numberType,
    help: 'The number without its sign.',
    examples: [
      ['abs(-10)', 10],
      ['abs(null)', null],
    ],
    evaluate: ([v]) => (isNumber(v) ? (compareNumbers(v, 0) < 0 ? negate(v) : (v as Num)) : null),
  },
  {
    name: 'floor',
    parameters: [n],
    result: numberType,
    help: 'The largest whole number that is not above it.',
    examples: [
      ['floor(1.5)', 1],
      ['floor(-1.5)', -2],
    ],
    evaluate: whole('floor'),
  },
  {
    name: 'ceiling',
    parameters: [n],
    result: numberType,
    help: 'The smallest whole number that is not below it.',
    examples: [
      ['ceiling(1.5)', 2],
      ['ceiling(-1.5)', -1],
    ],
    evaluate: whole('ceiling'),
  },
  {
    name: 'decimal',
    parameters: [n, { name: 'scale', type: numberType }],
    result: numberType,
    help: 'Rounded to so many decimals, half to the even neighbour.',
    examples: [
      ['decimal(1/3, 2)', 0.33],
      ['decimal(2.5, 0)', 2],
      ['decimal(1.005, 2)', 1],
    ],
    evaluate: whole('half-even'),
  },
];

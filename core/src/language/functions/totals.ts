import { booleanType, listOf, numberType } from '../types/types.ts';
import { DaysDuration, YearsDuration } from '../../values/calendar.ts';
import {
  type BigDecimal,
  Decimal,
  type Num,
  add,
  compareNumbers,
  decimalPrice,
  divide,
  isNumber,
  multiply,
  normalize,
  toDecimal,
} from '../../values/number.ts';
import type { Meter } from '../../values/meter.ts';
import { type Value, orderValues } from '../../values/value.ts';
import type { LanguageFunction } from './function.ts';
import { gathered, itemType, list } from './list-arguments.ts';

/** What totals of records give where there is nothing to total. */
const ofNone: ReadonlyMap<string, Value> = new Map<string, Value>([
  ['sum', 0],
  ['min', null],
  ['max', null],
  ['mean', null],
  ['median', null],
  ['product', null],
]);

const choosing: ReadonlySet<string> = new Set(['min', 'max', 'mode']);

/** Over a list, or over the arguments. */
function over(
  name: string,
  result: LanguageFunction['result'],
  help: string,
  examples: LanguageFunction['examples'],
  compute: (all: readonly Value[], meter: Meter) => Value,
): LanguageFunction {
  return {
    name,
    parameters: [list],
    variadic: true,
    result,
    help,
    examples,
    ...(choosing.has(name) ? { passes: true } : {}),
    ...(ofNone.has(name) ? { total: { ofNone: ofNone.get(name)! } } : {}),
    evaluate(args, _host, meter) {
      const all = gathered(args);
      return all === null ? null : compute(all, meter);
    },
  };
}

const numbersOf = (all: readonly Value[]): readonly Num[] | null => (all.every(isNumber) ? all : null);

function fold(all: readonly Value[], combine: (a: Num, b: Num) => Num | null, meter: Meter): Value {
  const numbers = numbersOf(all);
  if (!numbers || numbers.length === 0) return null;
  let total: Num | null = numbers[0]!;
  for (let i = 1; i < numbers.length && total !== null; i++) {
    total = combine(total, numbers[i]!);
    if (typeof total === 'object') meter.spend(decimalPrice);
  }
  return total;
}

/** Numbers, or durations of one kind. */
function sum(all: readonly Value[], meter: Meter): Value {
  if (all.length > 0 && all.every((v) => v instanceof DaysDuration))
    return new DaysDuration(all.reduce((s, v) => s + v.nanos, 0n));
  if (all.length > 0 && all.every((v) => v instanceof YearsDuration))
    return new YearsDuration(all.reduce((s, v) => s + v.months, 0));
  return fold(all, add, meter);
}

function extreme(all: readonly Value[], wanted: 1 | -1, meter: Meter): Value {
  let best: Value = all[0] ?? null;
  for (const v of all.slice(1)) {
    meter.spend(1 + (typeof v === 'string' ? v.length >> 3 : 0));
    const order = orderValues(v, best);
    if (order === null) return null;
    if (order * wanted > 0) best = v;
  }
  return all.length === 1 && orderValues(best, best) === null ? null : best;
}

const mean = (all: readonly Value[], meter: Meter): Value => {
  const total = fold(all, add, meter);
  return isNumber(total) ? divide(total, all.length) : null;
};

function sorted(numbers: readonly Num[], meter: Meter): Num[] {
  meter.spend(numbers.length * sortPrice);
  return [...numbers].sort(compareNumbers);
}
/** Steps to find the place of one number among many. */
const sortPrice = 20;

function median(all: readonly Value[], meter: Meter): Value {
  const numbers = numbersOf(all);
  if (!numbers || numbers.length === 0) return null;
  const s = sorted(numbers, meter);
  const middle = s.length >> 1;
  return s.length % 2 === 1 ? s[middle]! : divide(add(s[middle - 1]!, s[middle]!)!, 2);
}

/** The sample's standard deviation: with n − 1. */
function stddev(all: readonly Value[], meter: Meter): Value {
  const numbers = numbersOf(all);
  if (!numbers || numbers.length < 2) return null;
  meter.spend(4 * decimalPrice * numbers.length);
  const average = numbers.reduce<BigDecimal>((s, n) => s.plus(toDecimal(n)), new Decimal(0)).div(numbers.length);
  const squares = numbers.reduce<BigDecimal>((s, n) => s.plus(toDecimal(n).minus(average).pow(2)), new Decimal(0));
  return normalize(squares.div(numbers.length - 1).sqrt());
}

function mode(all: readonly Value[], meter: Meter): Value {
  const numbers = numbersOf(all);
  if (!numbers) return null;
  const counts: { n: Num; count: number }[] = [];
  for (const n of sorted(numbers, meter)) {
    const last = counts.at(-1);
    if (last && compareNumbers(last.n, n) === 0) last.count++;
    else counts.push({ n, count: 1 });
  }
  const most = counts.reduce((so, c) => Math.max(so, c.count), 0);
  return counts.filter((c) => c.count === most).map((c) => c.n);
}

function every(all: readonly Value[], decided: boolean): boolean | null {
  if (all.includes(decided)) return decided;
  return all.every((v) => typeof v === 'boolean') ? !decided : null;
}

export const totalFunctions: readonly LanguageFunction[] = [
  over(
    'min',
    itemType,
    'The smallest.',
    [
      ['min([1, 2, 3])', 1],
      ['min(1, 2, 3)', 1],
      ['min([])', null],
      ['min("a", "B")', 'B'],
    ],
    (all, meter) => extreme(all, -1, meter),
  ),
  over(
    'max',
    itemType,
    'The largest.',
    [
      ['max(1, 2, 3)', 3],
      ['max([])', null],
      ['max(1, "a")', null],
    ],
    (all, meter) => extreme(all, 1, meter),
  ),
  over(
    'sum',
    itemType,
    'The sum of numbers or durations.',
    [
      ['sum([1, 2, 3])', 6],
      ['sum(0.1, 0.2)', 0.3],
      ['sum([])', null],
      ['sum([1, null])', null],
    ],
    sum,
  ),
  over(
    'mean',
    numberType,
    'The average.',
    [
      ['mean([1, 2, 3])', 2],
      ['mean([])', null],
    ],
    mean,
  ),
  over(
    'all',
    booleanType,
    'True if all are true, false if any is false.',
    [
      ['all([true, false])', false],
      ['all([])', true],
      ['all([true, null])', null],
    ],
    (all) => every(all, false),
  ),
  over(
    'any',
    booleanType,
    'True if any is true, false if all are false.',
    [
      ['any([false, null, true])', true],
      ['any([])', false],
      ['any([false, null])', null],
    ],
    (all) => every(all, true),
  ),
  over(
    'product',
    numberType,
    'The numbers multiplied.',
    [
      ['product(2, 3, 4)', 24],
      ['product([])', null],
    ],
    (all, meter) => fold(all, multiply, meter),
  ),
  over(
    'median',
    numberType,
    'The middle one in order, or the average of the middle two.',
    [
      ['median(8, 2, 5, 3, 4)', 4],
      ['median([6, 1, 2, 3])', 2.5],
      ['median([])', null],
    ],
    median,
  ),
  over(
    'stddev',
    numberType,
    'The standard deviation of a sample.',
    [
      ['decimal(stddev(2, 4, 7, 5), 8)', 2.081666],
      ['stddev([47])', null],
    ],
    stddev,
  ),
  over(
    'mode',
    listOf(numberType),
    'The numbers that come most often, in ascending order.',
    [
      ['mode(6, 3, 9, 6, 6)', [6]],
      ['mode([6, 1, 9, 6, 1])', [1, 6]],
      ['mode([])', []],
    ],
    mode,
  ),
];

import { anyType, booleanType, join, listOf, nullType, numberType, type Type } from '../expression/types.ts';
import { DaysDuration, YearsDuration } from '../values/calendar.ts';
import {
  add,
  compareNumbers,
  Decimal,
  divide,
  isNumber,
  multiply,
  normalize,
  toDecimal,
  type BigDecimal,
  type Num,
} from '../values/number.ts';
import { equalValues, FeelFunction, isList, orderValues, type Value } from '../values/value.ts';
import type { LanguageFunction, Parameter } from './function.ts';

const list: Parameter = { name: 'list', type: listOf(anyType) };
const any = (name: string): Parameter => ({ name, type: anyType });
const number = (name: string, optional = false): Parameter =>
  optional ? { name, type: numberType, optional } : { name, type: numberType };
const longest = 200_000;

/** A single value stands for the list of it. */
const items = (v: Value | undefined): readonly Value[] | null =>
  v === undefined || v === null ? null : isList(v) ? v : [v];
/** `f(list)` and `f(a, b, …)` alike. */
const gathered = (given: readonly Value[]): readonly Value[] | null => (given.length === 1 ? items(given[0]) : given);
const itemType = (given: readonly Type[]): Type =>
  given.length === 1 && given[0]!.kind === 'list' ? given[0]!.item : given.reduce(join, nullType);
const same = (a: Value, b: Value): boolean => equalValues(a, b) === true;

function onList(
  name: string,
  parameters: readonly Parameter[],
  result: LanguageFunction['result'],
  help: string,
  examples: LanguageFunction['examples'],
  compute: (all: readonly Value[], ...more: Value[]) => Value,
): LanguageFunction {
  return {
    name,
    parameters,
    result,
    help,
    examples,
    evaluate([first, ...more]) {
      const all = items(first);
      return all === null ? null : compute(all, ...more);
    },
  };
}

/** Over a list, or over the arguments. */
/** What totals of records give where there is nothing to total. */
const ofNone: ReadonlyMap<string, Value> = new Map<string, Value>([
  ['sum', 0],
  ['min', null],
  ['max', null],
  ['mean', null],
  ['median', null],
  ['product', null],
]);

function over(
  name: string,
  result: LanguageFunction['result'],
  help: string,
  examples: LanguageFunction['examples'],
  compute: (all: readonly Value[]) => Value,
): LanguageFunction {
  return {
    name,
    parameters: [list],
    variadic: true,
    result,
    help,
    examples,
    ...(ofNone.has(name) ? { total: { ofNone: ofNone.get(name)! } } : {}),
    evaluate(given) {
      const all = gathered(given);
      return all === null ? null : compute(all);
    },
  };
}

const numbersOf = (all: readonly Value[]): readonly Num[] | null =>
  all.every(isNumber) ? (all as readonly Num[]) : null;

function fold(all: readonly Value[], combine: (a: Num, b: Num) => Num | null): Value {
  const numbers = numbersOf(all);
  if (!numbers || numbers.length === 0) return null;
  return numbers.slice(1).reduce<Num | null>((so, n) => (so === null ? null : combine(so, n)), numbers[0]!);
}

/** Numbers, or durations of one kind. */
function sum(all: readonly Value[]): Value {
  if (all.length > 0 && all.every((v) => v instanceof DaysDuration))
    return new DaysDuration(all.reduce((s, v) => s + v.nanos, 0n));
  if (all.length > 0 && all.every((v) => v instanceof YearsDuration))
    return new YearsDuration(all.reduce((s, v) => s + v.months, 0));
  return fold(all, add);
}

function extreme(all: readonly Value[], wanted: 1 | -1): Value {
  let best: Value = all[0] ?? null;
  for (const v of all.slice(1)) {
    const order = orderValues(v, best);
    if (order === null) return null;
    if (order * wanted > 0) best = v;
  }
  return all.length === 1 && orderValues(best, best) === null ? null : best;
}

const mean = (all: readonly Value[]): Value => {
  const total = fold(all, add);
  return isNumber(total) ? divide(total, all.length) : null;
};

const sorted = (numbers: readonly Num[]): Num[] => [...numbers].sort(compareNumbers);

function median(all: readonly Value[]): Value {
  const numbers = numbersOf(all);
  if (!numbers || numbers.length === 0) return null;
  const s = sorted(numbers);
  const middle = s.length >> 1;
  return s.length % 2 === 1 ? s[middle]! : divide(add(s[middle - 1]!, s[middle]!)!, 2);
}

/** The sample's standard deviation: with n − 1. */
function stddev(all: readonly Value[]): Value {
  const numbers = numbersOf(all);
  if (!numbers || numbers.length < 2) return null;
  const average = numbers.reduce<BigDecimal>((s, n) => s.plus(toDecimal(n)), new Decimal(0)).div(numbers.length);
  const squares = numbers.reduce<BigDecimal>((s, n) => s.plus(toDecimal(n).minus(average).pow(2)), new Decimal(0));
  return normalize(squares.div(numbers.length - 1).sqrt());
}

function mode(all: readonly Value[]): Value {
  const numbers = numbersOf(all);
  if (!numbers) return null;
  const counts: { n: Num; count: number }[] = [];
  for (const n of sorted(numbers)) {
    const last = counts.at(-1);
    if (last && compareNumbers(last.n, n) === 0) last.count++;
    else counts.push({ n, count: 1 });
  }
  const most = Math.max(0, ...counts.map((c) => c.count));
  return counts.filter((c) => c.count === most).map((c) => c.n);
}

function every(all: readonly Value[], decided: boolean): boolean | null {
  if (all.includes(decided)) return decided;
  return all.every((v) => typeof v === 'boolean') ? !decided : null;
}

const distinct = (all: readonly Value[]): Value[] => {
  const kept: Value[] = [];
  for (const v of all) if (!kept.some((k) => same(k, v))) kept.push(v);
  return kept;
};

const flat = (v: Value, depth = 0): Value[] => (isList(v) && depth < 100 ? v.flatMap((i) => flat(i, depth + 1)) : [v]);
const position = (p: Value | undefined, length: number): number | null => {
  if (typeof p !== 'number' || !Number.isInteger(p) || p === 0 || Math.abs(p) > length) return null;
  return p > 0 ? p - 1 : length + p;
};

function sublist(all: readonly Value[], start: Value | undefined, length: Value | undefined): Value {
  const from = position(start, all.length);
  if (from === null) return null;
  if (length === undefined || length === null) return all.slice(from);
  return typeof length === 'number' && Number.isInteger(length) && length >= 0 && from + length <= all.length
    ? all.slice(from, from + length)
    : null;
}

const bounded = (all: Value[]): Value => (all.length > longest ? null : all);
const joined = (given: readonly Value[]): Value[] => given.flatMap((g) => (isList(g) ? g : [g]));

function replaced(all: readonly Value[], where: Value | undefined, item: Value | undefined): Value {
  if (where instanceof FeelFunction) {
    const answers = all.map((v) => where.invoke([v, item ?? null]));
    return answers.every((a) => typeof a === 'boolean') ? all.map((v, i) => (answers[i] ? (item ?? null) : v)) : null;
  }
  const at = position(where, all.length);
  return at === null ? null : all.map((v, i) => (i === at ? (item ?? null) : v));
}

function sort(all: readonly Value[], precedes: Value | undefined): Value {
  if (precedes === undefined || precedes === null) {
    const comparable = all.every((v) => orderValues(v, all[0]!) !== null);
    return comparable ? [...all].sort((a, b) => orderValues(a, b)!) : null;
  }
  if (!(precedes instanceof FeelFunction)) return null;
  return [...all].sort((a, b) => (precedes.invoke([a, b]) === true ? -1 : precedes.invoke([b, a]) === true ? 1 : 0));
}

const listResult = (given: readonly Type[]): Type => listOf(itemType(given.slice(0, 1)));

export const listFunctions: readonly LanguageFunction[] = [
  onList(
    'list contains',
    [list, any('element')],
    booleanType,
    'Whether the value is among the items.',
    [
      ['list contains([1, 2, 3], 2)', true],
      ['list contains([1, null], null)', true],
    ],
    (all, element = null) => all.some((v) => same(v, element)),
  ),
  onList(
    'count',
    [list],
    numberType,
    'How many items there are.',
    [
      ['count([1, 2, 3])', 3],
      ['count([])', 0],
      ['count([1, [2, 3]])', 2],
    ],
    (all) => all.length,
  ),
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
    (all) => extreme(all, -1),
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
    (all) => extreme(all, 1),
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
  onList(
    'sublist',
    [list, number('start position'), number('length', true)],
    listResult,
    'Some of the items from a position, counted from 1 or from the end.',
    [
      ['sublist([4, 5, 6], 1, 2)', [4, 5]],
      ['sublist([4, 5, 6], -2)', [5, 6]],
      ['sublist([1], 0)', null],
    ],
    sublist,
  ),
  {
    name: 'append',
    parameters: [list, any('items')],
    variadic: true,
    result: listOf(anyType),
    help: 'The list with the items behind it.',
    examples: [
      ['append([1], 2, 3)', [1, 2, 3]],
      ['append([], null)', [null]],
    ],
    evaluate: ([first, ...more]) => (items(first) === null ? null : bounded([...items(first)!, ...more])),
  },
  {
    name: 'concatenate',
    parameters: [list],
    variadic: true,
    result: listOf(anyType),
    help: 'The lists one behind the other.',
    examples: [['concatenate([1, 2], [3])', [1, 2, 3]]],
    evaluate: (given) => (given.includes(null) ? null : bounded(joined(given))),
  },
  onList(
    'insert before',
    [list, number('position'), any('newItem')],
    listResult,
    'The list with an item before a position.',
    [
      ['insert before([1, 3], 1, 2)', [2, 1, 3]],
      ['insert before([1, 3], -1, 2)', [1, 2, 3]],
    ],
    (all, p, item = null) => {
      const at = position(p, all.length);
      return at === null ? null : [...all.slice(0, at), item, ...all.slice(at)];
    },
  ),
  onList(
    'remove',
    [list, number('position')],
    listResult,
    'The list without the item at a position.',
    [
      ['remove([1, 2, 3], 2)', [1, 3]],
      ['remove([1], 2)', null],
    ],
    (all, p) => {
      const at = position(p, all.length);
      return at === null ? null : all.filter((_, i) => i !== at);
    },
  ),
  onList(
    'list replace',
    [list, any('position'), any('newItem')],
    listResult,
    'The list with another item at a position, or where a function holds.',
    [
      ['list replace([2, 4, 7, 8], 3, 6)', [2, 4, 6, 8]],
      ['list replace([2, 4, 7, 8], function(item, newItem) item < newItem, 5)', [5, 5, 7, 8]],
    ],
    replaced,
  ),
  onList('reverse', [list], listResult, 'The items the other way round.', [['reverse([1, 2, 3])', [3, 2, 1]]], (all) =>
    [...all].reverse(),
  ),
  onList(
    'index of',
    [list, any('match')],
    listOf(numberType),
    'All positions of a value, counted from 1.',
    [['index of([1, 2, 3, 2], 2)', [2, 4]]],
    (all, m = null) => all.flatMap((v, i) => (same(v, m) ? [i + 1] : [])),
  ),
  {
    name: 'union',
    parameters: [list],
    variadic: true,
    result: listOf(anyType),
    help: 'The lists one behind the other, each value once.',
    examples: [['union([1, 2], [2, 3])', [1, 2, 3]]],
    evaluate: (given) => (given.includes(null) ? null : bounded(distinct(joined(given)))),
  },
  onList(
    'distinct values',
    [list],
    listResult,
    'Each value once.',
    [
      ['distinct values([1, 2, 3, 2, 1])', [1, 2, 3]],
      ['distinct values([null, 1, null])', [null, 1]],
    ],
    distinct,
  ),
  onList(
    'flatten',
    [list],
    listOf(anyType),
    'Lists inside lists made into one.',
    [['flatten([[1, 2], [[3]], 4])', [1, 2, 3, 4]]],
    (all) => bounded(all.flatMap((v) => flat(v))),
  ),
  over(
    'product',
    numberType,
    'The numbers multiplied.',
    [
      ['product(2, 3, 4)', 24],
      ['product([])', null],
    ],
    (all) => fold(all, multiply),
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
  onList(
    'sort',
    [list, { name: 'precedes', type: { kind: 'function' }, optional: true }],
    listResult,
    'The items in order, or in the order that a function gives.',
    [
      ['sort([3, 1, 2], function(x, y) x < y)', [1, 2, 3]],
      ['sort([3, 1, 2])', [1, 2, 3]],
    ],
    sort,
  ),
];

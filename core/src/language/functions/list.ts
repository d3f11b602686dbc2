import { type Type, anyType, booleanType, join, listOf, nullType, numberType } from '../types/types.ts';
import type { Meter } from '../../values/meter.ts';
import { FeelFunction, type Value, equalValues, identityOf, isList, orderValues } from '../../values/value.ts';
import { sizeOf, type LanguageFunction, type Parameter } from './function.ts';
import { itemType, items, list } from './list-arguments.ts';

const any = (name: string): Parameter => ({ name, type: anyType });
const number = (name: string, optional = false): Parameter =>
  optional ? { name, type: numberType, optional } : { name, type: numberType };
const longest = 200_000;

function onList(
  name: string,
  parameters: readonly Parameter[],
  result: LanguageFunction['result'],
  help: string,
  examples: LanguageFunction['examples'],
  compute: (all: readonly Value[], more: readonly Value[], meter: Meter) => Value,
  work?: LanguageFunction['work'],
): LanguageFunction {
  return {
    name,
    parameters,
    result,
    help,
    examples,
    ...(work === undefined ? {} : { work }),
    evaluate([first, ...more], _host, meter) {
      const all = items(first);
      return all === null ? null : compute(all, more, meter);
    },
  };
}

/** Whether a value equals an item: a quick look at plain values, each visit charged where a list has to be gone through. */
const equals =
  (wanted: Value, meter: Meter) =>
  (v: Value): boolean =>
    equalValues(v, wanted, meter) === true;

/** Steps to work out what a value is known by, and to look it up. */
const identityPrice = 4;

/** Each value once, by hash. */
function distinct(all: readonly Value[], meter: Meter): Value[] {
  const seen = new Set<string>();
  return all.filter((v) => {
    meter.spend(identityPrice + sizeOf(v));
    const identity = identityOf(v, meter);
    if (identity === undefined) return true;
    return !seen.has(identity) && seen.add(identity);
  });
}

function flat(v: Value, into: Value[], meter: Meter, depth = 0): Value[] {
  meter.spend(1);
  if (isList(v) && depth < 100) for (const item of v) flat(item, into, meter, depth + 1);
  else into.push(v);
  return into;
}
const position = (p: Value | undefined, length: number): number | null => {
  if (typeof p !== 'number' || !Number.isInteger(p) || p === 0 || Math.abs(p) > length) return null;
  return p > 0 ? p - 1 : length + p;
};

function sublist(all: readonly Value[], [start, length]: readonly Value[]): Value {
  const from = position(start, all.length);
  if (from === null) return null;
  if (length === undefined || length === null) return all.slice(from);
  return typeof length === 'number' && Number.isInteger(length) && length >= 0 && from + length <= all.length
    ? all.slice(from, from + length)
    : null;
}

const bounded = (all: Value[]): Value => (all.length > longest ? null : all);
const joined = (args: readonly Value[]): Value[] => args.flatMap((g) => (isList(g) ? g : [g]));

function replaced(all: readonly Value[], [where, item]: readonly Value[]): Value {
  if (where instanceof FeelFunction) {
    const answers = all.map((v) => where.invoke([v, item ?? null]));
    return answers.every((a) => typeof a === 'boolean') ? all.map((v, i) => (answers[i] ? (item ?? null) : v)) : null;
  }
  const at = position(where, all.length);
  return at === null ? null : all.map((v, i) => (i === at ? (item ?? null) : v));
}

/** Steps of one comparison while sorting: longer texts take longer to tell apart. */
const comparisonPrice = (a: Value, b: Value): number =>
  typeof a === 'string' && typeof b === 'string' ? 2 + (Math.min(a.length, b.length) >> 2) : 3;

function sort(all: readonly Value[], [precedes]: readonly Value[], meter: Meter): Value {
  if (precedes === undefined || precedes === null) {
    const comparable = all.every((v) => orderValues(v, all[0]!) !== null);
    if (!comparable) return null;
    return [...all].sort((a, b) => {
      meter.spend(comparisonPrice(a, b));
      return orderValues(a, b)!;
    });
  }
  if (!(precedes instanceof FeelFunction)) return null;
  return [...all].sort((a, b) => (precedes.invoke([a, b]) === true ? -1 : precedes.invoke([b, a]) === true ? 1 : 0));
}

const listResult = (args: readonly Type[]): Type => listOf(itemType(args.slice(0, 1)));
/** The third argument becomes an item. */
const withNewItem = (args: readonly Type[]): Type =>
  listOf([itemType(args.slice(0, 1)), args[2] ?? nullType].reduce(join));

const comparing: ReadonlySet<string> = new Set(['list contains', 'index of']);
const counting: ReadonlySet<string> = new Set(['count', ...comparing]);

const all: readonly LanguageFunction[] = [
  onList(
    'list contains',
    [list, any('element')],
    booleanType,
    'Whether the value is among the items.',
    [
      ['list contains([1, 2, 3], 2)', true],
      ['list contains([1, null], null)', true],
    ],
    (all, [element = null], meter) => all.some(equals(element, meter)),
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
    1,
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
    evaluate: (args) => (args.includes(null) ? null : bounded(joined(args))),
  },
  onList(
    'insert before',
    [list, number('position'), any('newItem')],
    withNewItem,
    'The list with an item before a position.',
    [
      ['insert before([1, 3], 1, 2)', [2, 1, 3]],
      ['insert before([1, 3], -1, 2)', [1, 2, 3]],
    ],
    (all, [p, item = null]) => {
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
    (all, [p]) => {
      const at = position(p, all.length);
      return at === null ? null : all.filter((_, i) => i !== at);
    },
  ),
  onList(
    'list replace',
    [list, any('position'), any('newItem')],
    withNewItem,
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
    (all, [wanted = null], meter) => {
      const found = equals(wanted, meter);
      return all.flatMap((v, i) => (found(v) ? [i + 1] : []));
    },
  ),
  {
    name: 'union',
    parameters: [list],
    variadic: true,
    result: listOf(anyType),
    help: 'The lists one behind the other, each value once.',
    examples: [['union([1, 2], [2, 3])', [1, 2, 3]]],
    evaluate: (args, _host, meter) => (args.includes(null) ? null : bounded(distinct(joined(args), meter))),
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
    (all, _more, meter) => distinct(all, meter),
  ),
  onList(
    'flatten',
    [list],
    listOf(anyType),
    'Lists inside lists made into one.',
    [['flatten([[1, 2], [[3]], 4])', [1, 2, 3, 4]]],
    (all, _more, meter) => {
      const found: Value[] = [];
      for (const v of all) flat(v, found, meter);
      return bounded(found);
    },
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

/** All but those that count or look for something give items of their lists. */
export const listFunctions: readonly LanguageFunction[] = all.map((f) => ({
  ...f,
  ...(counting.has(f.name) ? {} : { passes: true }),
  ...(comparing.has(f.name) ? { compares: true } : {}),
}));

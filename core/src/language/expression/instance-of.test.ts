/** `instance of`: OMG DMN 1.3, table 51 (the types of FEEL) and 10.3.2.13 (generic types); null is of no type but Null. */
import { expect, it } from 'vitest';
import { sampleEnvironments, sampleScope } from '../../testing/formula-scope.ts';
import { createFormula } from './formula.ts';

const types: Readonly<Record<string, readonly string[]>> = {
  '1': ['number'],
  '"a"': ['string'],
  true: ['boolean'],
  'date("2026-05-03")': ['date'],
  'time("10:00:00")': ['time'],
  'date and time("2026-05-03T10:00:00")': ['date and time'],
  'duration("P2D")': ['days and time duration'],
  'duration("P2M")': ['years and months duration'],
  '[1, 2]': ['list', 'list<number>'],
  '[1, null]': ['list', 'list<number>'],
  '["a", ["b"]]': ['list'],
  '{a: 1, b: "x"}': ['context', 'context<a: number>', 'context<a: number, b: string>'],
  '[1..5]': ['range'],
  'function(a) a': ['function<number> -> number'],
};
const all = [...new Set(Object.values(types).flat())];

it.each(Object.entries(types).flatMap(([value, of]) => all.map((type) => [value, type, of.includes(type)] as const)))(
  '%s instance of %s is %s',
  (value, type, expected) => {
    const { evaluate, diagnostics } = createFormula(`(${value}) instance of ${type}`, sampleScope);
    expect(diagnostics.filter((d) => d.severity === 'error')).toEqual([]);
    expect(evaluate!(sampleEnvironments[0]!)).toBe(expected);
  },
);

it.each([
  ['null instance of number', false],
  ['null instance of Any', false],
  ['1 instance of Any', true],
  ['null instance of Null', true],
  ['[[1], [2, 3]] instance of list<list<number>>', true],
  ['[[1], ["b"]] instance of list<list<number>>', false],
  ['{a: {b: [1]}} instance of context<a: context<b: list<number>>>', true],
  ['{a: {b: ["x"]}} instance of context<a: context<b: list<number>>>', false],
  ['{a: null} instance of context<a: number>', true],
  ['{b: 1} instance of context<a: number>', false],
])('%s is %s', (text, expected) => {
  expect(createFormula(text, sampleScope).evaluate!(sampleEnvironments[0]!)).toBe(expected);
});

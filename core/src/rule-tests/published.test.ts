/**
 * The worked example of OMG DMN 1.3, clause 11 (loan originations; the values are from memory): its tables as rules, their
 * rows as tests, and what is proposed for them against what a tester derives by hand.
 */
import { expect, it } from 'vitest';
import { compileProgram } from '../compile/program.ts';
import type { MappingTable, Rule, Rulebook, RuleTest, Stored } from '../document/document.ts';
import { marksOf } from './coverage.ts';
import { linesOf } from './family.ts';
import { firstOffers, offersFor } from './offers.ts';
import { runTest, runTests } from './run.ts';
import { StrengthMeter } from './strength.ts';
import { familyOfTable } from './table-family.ts';

const categories = ['Decline', 'High', 'Medium', 'Low', 'Very low'].map((name) => ({
  key: name.toLowerCase().replace(' ', '_'),
  name,
}));
const under = (to: number) => ({ to });
const over = (from: number) => ({ from, fromOpen: true });

const preBureau: MappingTable = {
  key: 'pre_bureau',
  name: 'Pre-bureau risk category',
  purpose: 'How risky an application is before the credit bureau is asked.',
  hitPolicy: 'unique',
  keys: [
    { key: 'existing', name: 'Existing customer', type: 'yes/no' },
    { key: 'score', name: 'Application risk score', type: 'number' },
  ],
  outputs: [{ key: 'category', name: 'Category', field: 'application.category' }],
  rows: [
    { existing: false, score: under(100), category: 'high' },
    { existing: false, score: { from: 100, to: 120 }, category: 'medium' },
    { existing: false, score: { from: 120, to: 130, toClosed: true }, category: 'low' },
    { existing: false, score: over(130), category: 'very_low' },
    { existing: true, score: under(80), category: 'decline' },
    { existing: true, score: { from: 80, to: 90 }, category: 'high' },
    { existing: true, score: { from: 90, to: 110, toClosed: true }, category: 'medium' },
    { existing: true, score: over(110), category: 'low' },
  ],
};
const contingency: MappingTable = {
  key: 'contingency',
  name: 'Credit contingency factor',
  purpose: 'How much of the income counts.',
  hitPolicy: 'unique',
  keys: [{ key: 'category', name: 'Category', field: 'application.category' }],
  outputs: [{ key: 'factor', name: 'Factor', type: 'number' }],
  rows: [
    { category: ['high', 'decline'], factor: 0.6 },
    { category: 'medium', factor: 0.7 },
    { category: ['low', 'very_low'], factor: 0.8 },
  ],
};
const clear = { do: 'clear' } as const;
const mapped = (
  key: string,
  table: string,
  keys: Readonly<Record<string, string>>,
  value: string,
  target: string,
): Rule => ({
  key,
  recordType: 'application',
  name: key,
  purpose: 'as published',
  kind: 'map',
  on: true,
  position: 0,
  moments: ['creating', 'updating'],
  entryPoints: ['form:full'],
  repeat: 'wakes',
  winner: 'locked',
  outcome: {
    source: { by: 'table', table, keys },
    onto: '',
    outputs: [{ value, target, way: 'replace' }],
    blank: clear,
    none: clear,
    several: clear,
  },
});
const book: Rulebook = {
  format: 'rigid-rule/1',
  name: 'Loan originations',
  zone: 'UTC',
  currency: 'EUR',
  recordTypes: [
    {
      key: 'application',
      name: 'Application',
      plural: 'Applications',
      title: [],
      forms: [{ key: 'full', name: 'full form' }],
      fields: [
        { key: 'existing', name: 'Existing customer', type: 'yes/no' },
        { key: 'score', name: 'Application risk score', type: 'number', scale: 0 },
        { key: 'category', name: 'Category', type: 'picklist', options: categories },
        { key: 'factor', name: 'Factor', type: 'number', scale: 1 },
      ],
    },
  ],
  tables: [preBureau, contingency],
  rules: [
    mapped(
      'risk',
      'pre_bureau',
      { existing: 'Existing customer', score: 'Application risk score' },
      'category',
      'category',
    ),
    mapped('factor', 'contingency', { category: 'Category' }, 'factor', 'factor'),
  ],
};
const program = compileProgram(book);
const type = program.types.get('application')!;
const rule = (key: string) => type.rules.find((r) => r.rule.key === key)!;

it('is a rulebook without a mistake', () => {
  expect([program.problems, program.broken]).toEqual([[], []]);
});

/** Both sides of every boundary of both halves. */
const asPublished: readonly (readonly [boolean, number, string, number])[] = [
  [false, 99, 'high', 0.6],
  [false, 100, 'medium', 0.7],
  [false, 119, 'medium', 0.7],
  [false, 120, 'low', 0.8],
  [false, 130, 'low', 0.8],
  [false, 131, 'very_low', 0.8],
  [true, 79, 'decline', 0.6],
  [true, 80, 'high', 0.6],
  [true, 89, 'high', 0.6],
  [true, 90, 'medium', 0.7],
  [true, 110, 'medium', 0.7],
  [true, 111, 'low', 0.8],
];
const published: RuleTest = {
  key: 'published',
  name: 'as published',
  recordType: 'application',
  before: null,
  sent: {},
  moment: 'creating',
  entryPoint: 'form:full',
  now: '2026-05-04T09:00:00Z',
  expect: { verdict: 'saved' },
  family: { cases: { sent: ['existing', 'score'], expected: ['category', 'factor'], rows: asPublished } },
};

it('one family of both sides of every boundary holds, case by case', () => {
  const lines = linesOf(published, type);
  expect(lines).toHaveLength(asPublished.length);
  expect(lines.flatMap((l) => runTest(program, l.test).failures)).toEqual([]);
});

it('is brought to by the proposals: every row, every boundary, and faults as the published cases catch', () => {
  const seen = new Set<string>();
  const meter = new StrengthMeter(program, []);
  const { offers } = firstOffers(offersFor(rule('risk'), type, meter, seen, new Set(), []));
  const tests = offers.map((o) => o.test);
  const lines = tests.flatMap((t) => linesOf(t, type));
  expect(lines.flatMap((l) => runTest(program, l.test).failures)).toEqual([]);
  const reached = new Set(
    runTests(program, tests).flatMap((r) => [...marksOf(r.settlement!.trace, r.test.entryPoint)]),
  );
  expect(preBureau.rows.map((_, row) => reached.has(`risk\0branch ${row}`))).toEqual(preBureau.rows.map(() => true));
  const caught = (list: readonly RuleTest[]): number => {
    const of = new StrengthMeter(program, list);
    const { caught: n, planted } = of.strengthOf(of.parts().find((p) => p.key === 'risk')!);
    return n / planted;
  };
  expect(caught(tests)).toBeGreaterThanOrEqual(Math.max(0.95, caught([published])));
});

it.each<[string, Partial<Rule>, Partial<MappingTable>]>([
  ['acts on changes only', { moments: ['updating'] }, {}],
  ['puts several rows together', {}, { hitPolicy: 'collect', aggregation: 'sum' }],
])('no family is made of the rows for a rule that %s', (_, ruleMore, tableMore) => {
  const other = compileProgram({
    ...book,
    tables: [preBureau, { ...contingency, ...tableMore }],
    rules: book.rules.map((r) => (r.key === 'factor' ? { ...r, ...ruleMore } : r)),
  });
  const own = other.types.get('application')!;
  expect(
    familyOfTable(
      own.rules.find((r) => r.rule.key === 'factor')!,
      own,
      other,
    ),
  ).toBeUndefined();
});

it('a table of single values is a family of its rows; one of ranges is not', () => {
  expect(familyOfTable(rule('risk'), type, program)).toBeUndefined();
  const family = familyOfTable(rule('factor'), type, program)!;
  expect(family.family).toEqual({
    cases: {
      sent: ['category'],
      expected: ['factor'],
      rows: [
        ['high', 0.6],
        ['medium', 0.7],
        ['low', 0.8],
      ] satisfies Stored[][],
    },
  });
});

import { expect, it } from 'vitest';
import { compileProgram } from '../compile/program.ts';
import type { RuleTest, TestFamily } from '../document/document.ts';
import { rulebookOf, sizeClass } from '../testing/customers.ts';
import { casesOf } from './family.ts';
import { runTests } from './run.ts';

const program = compileProgram(rulebookOf(sizeClass));
const test = (family: TestFamily, more: Partial<RuleTest> = {}): RuleTest => ({
  key: 't',
  name: 'Sizes',
  recordType: 'customer',
  before: null,
  sent: { name: 'Alder', count: 10 },
  moment: 'creating',
  entryPoint: 'form:full',
  now: '2026-05-04T09:00:00Z',
  expect: { ran: ['size-class'] },
  family,
  ...more,
});
const cases = {
  sent: ['count'],
  expected: ['class'],
  rows: [
    [9, 'micro'],
    [10, 'small'],
    [50, 'small'],
  ],
} as const;

it.each<[string, TestFamily, Partial<RuleTest>, readonly (readonly [string, number])[]]>([
  [
    'a list: each line has its own verdict',
    { cases },
    {},
    [
      ['Sizes: Employee count 9', 0],
      ['Sizes: Employee count 10', 0],
      ['Sizes: Employee count 50', 1],
    ],
  ],
  [
    'entry points: one that only changes meets a blank record',
    { entryPoints: ['form:short', 'api', 'bulk'] },
    { expect: { fields: { class: 'small' } } },
    [
      ['Sizes: short form', 0],
      ['Sizes: API', 0],
      ['Sizes: bulk change', 0],
    ],
  ],
  [
    'each with each',
    { cases: { ...cases, rows: cases.rows.slice(0, 1) }, entryPoints: ['api', 'import'] },
    {},
    [
      ['Sizes: Employee count 9, API', 0],
      ['Sizes: Employee count 9, file import', 0],
    ],
  ],
  ['a blank value', { cases: { ...cases, rows: [[null, null]] } }, {}, [['Sizes: Employee count blank', 0]]],
])('%s', (_, family, more, lines) => {
  const asked = test(family, more);
  const results = runTests(program, [asked]);
  expect(results.map((r) => [r.test.name, r.failures.length])).toEqual(lines);
  expect(results.map((r) => [r.of, r.test.key])).toEqual(lines.map((__, i) => ['t', `t/${i + 1}`]));
  expect(casesOf(asked)).toBe(lines.length);
});

/** Types as a lattice: what joins two of them takes both. */
import { expect, it } from 'vitest';
import { dealBook } from '../../testing/deals.ts';
import { createFormula } from '../expression/formula.ts';
import { createScope } from '../expression/scope.ts';
import { fits, join, typeName, type Type } from './types.ts';

const book = dealBook([]);
const scope = createScope(
  book.recordTypes.find((t) => t.key === 'deal')!,
  book,
);
const typeOf = (text: string): Type => createFormula(text, scope).type;

const texts = [
  'null',
  '1',
  '"a"',
  'true',
  'Stage',
  'Deal kind',
  'Customer',
  'Customer.Service area',
  'Customer.Contacts',
  'Customer.Deals',
  'origin',
  '[1, 2]',
  '["a"]',
  '[Customer]',
  '{a: 1}',
  '{a: "x"}',
  '{a: 1, b: 2}',
  'context merge([{a: 1}])',
  'Signing date',
  '@"09:00:00"',
  '@"2026-05-03T09:00:00"',
  'duration("P1D")',
  'duration("P1Y")',
  '[1..5]',
  'function(x) x',
] as const;

it('what joins two types takes both, whichever comes first', () => {
  for (const a of texts.map(typeOf))
    for (const b of texts.map(typeOf)) {
      const [one, two] = [join(a, b), join(b, a)];
      for (const t of [a, b])
        for (const joined of [one, two]) expect([typeName(t), fits(t, joined)]).toEqual([typeName(t), true]);
      expect(typeName(one)).toBe(typeName(two));
      expect(typeName(join(a, a))).toBe(typeName(a));
    }
});

it.each([
  ['[Customer, Customer]', 'a list of Customer records'],
  ['[Stage]', 'a list of options of Stage'],
  ['[[1]]', 'a list of lists of numbers'],
  ['[@"2026-05-03T09:00:00"]', 'a list of dates and times'],
  ['[true]', 'a list of true or false'],
  ['[origin]', 'a list of records'],
  ['[null]', 'a list of blank values'],
  ['[Customer, Customer.Service area]', 'a list of values'],
  ['if true then Customer else Customer', 'a Customer'],
  ['[Stage, "Won"]', 'a list of texts'],
  ['[{a: 1}, {a: 2}][1].a', 'a number'],
  ['[{a: 1}, {a: "x"}][1].a', 'a value whose type is not known until it runs'],
  ['[{a: 1}, {b: 1}][1]', 'a context'],
  ['origin', 'a record'],
  ['Customer.Contacts', 'a list of Contact records'],
])('%s is %s', (text, name) => {
  expect(typeName(typeOf(text))).toBe(name);
});

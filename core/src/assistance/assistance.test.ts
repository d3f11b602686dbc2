import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { createScope } from '../language/expression/scope.ts';
import { createFormula } from '../language/expression/formula.ts';
import { dealBook } from '../testing/deals.ts';
import { completionsAt } from './completions.ts';
import {
  addRow,
  changeJoin,
  printRow,
  removeItem,
  replaceRow,
  rowComparisons,
  rowsOf,
} from '../language/wording/condition-rows.ts';
import { runsOf } from '../testing/runs.ts';
import { describeAt, functionHelp } from './describe.ts';
import { tokensOf } from './tokens.ts';

const book = dealBook([]);
const deal = book.recordTypes.find((t) => t.key === 'deal')!;
const scope = createScope(deal, book);
const stage = deal.fields.find((f) => f.key === 'stage')!;
const labels = (text: string) => completionsAt(text, text.length, scope)?.list.map((c) => c.label) ?? [];

describe('what may be written', () => {
  it.each([
    ['a field, from its first letters', 'Am', 'Amount'],
    ['a function, with its bracket', 'wor', 'words'],
    ['an option after a comparison', 'Stage = ', stage.options![0]!.name],
    ['an option inside an open quotation mark', 'Stage = "', stage.options![1]!.name],
    ['an option further on in a list', `Stage in ("${stage.options![0]!.name}", `, stage.options![1]!.name],
    ['an option in a list of its own', `Stage in ["${stage.options![0]!.name}", `, stage.options![1]!.name],
    ['a member of the linked record', 'Customer.', 'Name'],
    ['a field as it was before', 'previous.', 'Stage'],
    ['a field behind an operator', 'Amount > 5 and Sta', 'Stage'],
    ['a column inside a filter', 'Country table[Cou', 'Country'],
    ['a field of the items of a list', 'sum(Customer.Deals[', 'Amount'],
    ['an option of theirs', 'count(Customer.Deals[Stage in ("Won", "', 'Proposal'],
    ['what they lead to', 'Customer.Deals[Customer.Service area.', 'Depot'],
    ['a part of the item itself', 'Customer.Deals[item.', 'Amount'],
    ['a filter in a filter', 'Customer.Deals[count(Customer.Contacts[', 'Last name'],
    ['this record beside them', 'Country table[Country = record.', 'Stage'],
    ['what is found', 'Country table[Country = "Spain"][1].', 'Table region'],
    ['what a call gives', 'first filled(Customer, Customer).', 'Name'],
    ['a part of a context', '{part one: 1}.', 'part one'],
    ['what the record is made from', 'ori', 'origin'],
  ])('%s', (_, text, wanted) => expect(labels(text)).toContain(wanted));

  it('is nothing where a word of the language stands whole, though it occurs in names', () => {
    expect(labels('Amount > 5 or')).toEqual([]);
    expect(labels('Amount > 5 or ')).toContain('Amount');
  });

  it('is nothing inside a comment or a finished text', () => {
    expect(labels('// Amo')).toEqual([]);
    expect(labels('Amount + "Sta')).toEqual([]);
  });

  it('is each name once, inside a filter that of its items', () => {
    expect(labels('Customer.Deals[Sta').filter((label) => label === 'Stage')).toEqual(['Stage']);
  });

  it('is found at once, however many filters are open', () => {
    expect(labels('nothing['.repeat(60))).toContain('Amount');
  });

  it('puts what is chosen in the place of what was begun, spaces included', () => {
    const found = completionsAt('1 + Previous st', 15, scope)!;
    expect(found.from).toBe(4);
  });

  it('never fails, whatever stands there', () => {
    const signs = [' ', '.', '"', '(', ')', '[', ']', '=', 'in', 'x', '1', ',', '{', '}', '/*', '*/', '//', '\n'];
    const text = fc.string({ unit: fc.constantFrom('Stage', 'Customer', 'Deals', 'Country table', 'item', ...signs) });
    fc.assert(
      fc.property(text, fc.nat(40), (t, at) => {
        void completionsAt(t, Math.min(at, t.length), scope);
        void describeAt(t, Math.min(at, t.length), scope);
        const tokens = tokensOf(t, scope);
        const gaps = tokens.map(({ from }, i) => t.slice(tokens[i - 1]?.to ?? 0, from));
        expect([...gaps, t.slice(tokens.at(-1)?.to ?? 0)].join('').trim()).toBe('');
      }),
      { numRuns: runsOf(400) },
    );
  });
});

describe('what a name is', () => {
  it.each([
    ['Stage = "x"', 2, 'Stage', stage.options![0]!.name],
    ['Customer.Name', 11, 'Customer.Name', 'a text'],
    ['sum(Customer.Deals[Amount > 1].Amount)', 21, 'Amount', 'a number'],
    ['Country table[Country = "Spain"][1].Table region', 40, 'Table region', 'South'],
    ['words(Title)', 2, 'words(text)', 'gives'],
  ])('%s at %d', (text, at, title, says) => {
    const found = describeAt(text, at, scope)!;
    expect(found.title).toContain(title);
    expect(found.text).toContain(says);
  });
  it('is said of every function, with an example', () => {
    for (const f of functionHelp()) expect(f.example, f.name).toMatch(/ gives /);
  });
});

it('a text is cut into tokens that cover all but its spaces', () => {
  const text = 'if Amount > 1.5 then "a b" else words(Title)[1] // why';
  const rest = [...tokensOf(text, scope)].reduceRight((t, { from, to }) => t.slice(0, from) + t.slice(to), text);
  expect(rest.trim()).toBe('');
  const kinds = tokensOf(text, scope).map((t) => `${text.slice(t.from, t.to)}:${t.kind}`);
  expect(kinds).toEqual(expect.arrayContaining(['Amount:name', 'words:function', '"a b":text', '// why:comment']));
});

describe('a condition as rows', () => {
  const fits = [
    ['Amount > 5', 'Amount above 5'],
    ['not(is blank(Amount))', 'Amount filled '],
    ['Amount != null', 'Amount filled '],
    ['Amount between 1 and 5', 'Amount between 1,5'],
    ['Stage in ("Won", "Proposal")', 'Stage one of "Won","Proposal"'],
    ['has changed(Stage)', 'Stage changed '],
    ['previous.Stage = "Won"', 'previous.Stage is "Won"'],
    ['Customer.Name = "Fen"', 'Customer.Name is "Fen"'],
  ] as const;
  it.each(fits)('%s', (text, row) => {
    const [item] = rowsOf(text, scope)!.items;
    expect(item).toMatchObject({ kind: 'row' });
    if (item?.kind === 'row') expect(`${item.subject} ${item.comparison} ${item.values.join(',')}`).toBe(row);
  });

  it.each(['Amount + 1 > 5', 'count(words(Title)) = 2', 'Amount > 5 // big', 'Amount >'])(
    '%s stays a formula',
    (text) => expect(rowsOf(text, scope)).toBeUndefined(),
  );

  it('printed and read again, each comparison is itself', () => {
    for (const c of rowComparisons) {
      const values = { none: [], one: ['1'], two: ['1', '2'], many: ['1', '2'] }[c.takes];
      const text = printRow('Amount', c.key, values);
      expect(rowsOf(text, scope)?.items[0], text).toMatchObject({ comparison: c.key, values });
    }
  });

  it('an edit changes its own row and nothing else', () => {
    const text = 'Amount  >  5 and (Stage = "Won" or  Stage = "Proposal")';
    const root = rowsOf(text, scope)!;
    const [first, inner] = root.items;
    if (first?.kind !== 'row' || inner?.kind !== 'group') throw new Error('unexpected rows');
    expect(replaceRow(text, first, 'Amount > 6')).toBe('Amount > 6 and (Stage = "Won" or  Stage = "Proposal")');
    expect(addRow(text, root, inner, 'Stage = "Surveyed"')).toContain('or Stage = "Surveyed")');
    expect(createFormula(addRow(text, root, root, 'Amount < 9'), scope).diagnostics).toEqual([]);
    expect(removeItem(text, root, root, 0)).toContain('Stage = "Won" or  Stage = "Proposal"');
    expect(rowsOf(removeItem(text, root, inner, 0), scope)!.items).toHaveLength(2);
    expect(rowsOf(changeJoin(text, root, root), scope)!.join).toBe('any');
  });

  it('rows added and removed come back to the same meaning', () => {
    const row = fc.constantFrom('Amount > 5', 'Stage = "Won"', 'is blank(Title)', 'Amount <= 3');
    fc.assert(
      fc.property(fc.array(row, { minLength: 1, maxLength: 5 }), fc.boolean(), (rows, any) => {
        const text = rows.join(any ? ' or ' : ' and ');
        const root = rowsOf(text, scope)!;
        const more = addRow(text, root, root, 'Amount = 7');
        const again = rowsOf(more, scope)!;
        const less = removeItem(more, again, again, again.items.length - 1);
        expect(rowsOf(less, scope)!.items.map((i) => less.slice(i.from, i.to))).toEqual(rows);
      }),
    );
  });
});

/** An edit of rows is an edit of the condition's tree: what the text then means is what the rows say. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { createFormula } from '../expression/formula.ts';
import { createScope } from '../expression/scope.ts';
import { Meter } from '../../values/meter.ts';
import type { Value } from '../../values/value.ts';
import { dealBook } from '../../testing/deals.ts';
import {
  addRow,
  changeJoin,
  printRow,
  removeItem,
  replaceRow,
  rowComparisons,
  rowsOf,
  type ConditionGroup,
  type ConditionRow,
} from './condition-rows.ts';
import { runsOf } from '../../testing/runs.ts';

const book = dealBook([]);
const deal = book.recordTypes.find((t) => t.key === 'deal')!;
const scope = createScope(deal, book);
type Item = ConditionRow | ConditionGroup;
type Sample = Readonly<Record<string, Value>>;

/** Three-valued, as FEEL's `and` and `or` are. */
function truth(text: string, sample: Sample): Value {
  const { evaluate, diagnostics } = createFormula(text, scope);
  expect(diagnostics.map((d) => d.message)).toEqual([]);
  const record = deal.fields.map((f) => sample[f.key] ?? null);
  return evaluate!({ record, previous: record, variables: [], meter: new Meter() });
}

function joined(join: 'all' | 'any', values: readonly Value[]): Value {
  const strong = join === 'any';
  return values.includes(strong) ? strong : values.includes(null) ? null : !strong;
}

const said = (item: Item, text: string, sample: Sample): Value =>
  item.kind === 'row'
    ? truth(text.slice(item.from, item.to), sample)
    : joined(
        item.join,
        item.items.map((i) => said(i, text, sample)),
      );

const groupsOf = (g: ConditionGroup): ConditionGroup[] => [
  g,
  ...g.items.flatMap((i) => (i.kind === 'group' ? groupsOf(i) : [])),
];

const leaf = fc.constantFrom(
  'Amount > 5',
  'Stage = "Won"',
  'is blank(Title)',
  'Amount = (if Amount > 3 then 5 else 7)',
  'Amount > if Stage = "Won" then 3 else 6',
  'not(Stage in ("Won", "Proposal"))',
  'Amount between 2 and 6',
  'Amount in [2..6]',
);
const { tree } = fc.letrec<{ tree: string }>((tie) => ({
  tree: fc.oneof(
    { maxDepth: 3 },
    leaf,
    fc.tuple(tie('tree'), fc.constantFrom(' and ', ' or '), tie('tree')).map(([a, op, b]) => `(${a})${op}(${b})`),
    fc.tuple(leaf, fc.constantFrom(' and ', ' or '), leaf).map(([a, op, b]) => `(${a})${op}${b}`),
  ),
}));
const samples = fc.record({
  amount: fc.constantFrom<Value>(null, 1, 4, 5, 7),
  stage: fc.constantFrom<Value>(null, 'Won', 'Enquiry'),
  title: fc.constantFrom<Value>(null, 'x'),
});

describe('rows', () => {
  it.each([
    [
      '((Amount = 1) or (Amount = 2)) and is blank(Title)',
      '(Amount = 1 or Amount = 2) and is blank(Title) and Amount > 9',
    ],
    ['Amount > if Stage = "Won" then 3 else 6', '(Amount > if Stage = "Won" then 3 else 6) and Amount > 9'],
  ])('one more behind %s', (text, after) => {
    const root = rowsOf(text, scope)!;
    const now = addRow(text, root, root, 'Amount > 9');
    for (const amount of [null, 1, 2, 5, 10])
      for (const title of [null, 'x']) expect(truth(now, { amount, title })).toBe(truth(after, { amount, title }));
  });

  it.each([
    ['is', ['Amount > 3 and true'], 'Title = (Amount > 3 and true)'],
    ['is', ['"a and b"'], 'Title = "a and b"'],
    ['no such row', ['1'], 'Title'],
    ['at least', ['1 + 2'], 'Title >= 1 + 2'],
    [
      'between',
      ['if true then 1 else 2', 'count([1 > 2])'],
      'Title between (if true then 1 else 2) and count([1 > 2])',
    ],
  ])('%s %j', (comparison, values, text) => {
    expect(printRow('Title', comparison, values)).toBe(text);
  });

  it.each([
    ['Amount in [2..6]', 'between'],
    ['Amount in (2..6]', undefined],
    ['is blank(Crops)', 'blank'],
    ['Crops = null', undefined],
    ['Stage = null', 'blank'],
    ['previous.Stage = "Won"', 'is'],
    ['Amount > -(if Stage = "Won" then 3 else 6)', 'above'],
    ['Amount = (for d in [1] return d)', 'is'],
    ['Amount between 1 and some x in [1] satisfies x > 1', 'between'],
  ])('%s is the row %s', (text, comparison) => {
    const customers = createScope(
      book.recordTypes.find((t) => t.fields.some((f) => f.key === 'crops'))!,
      book,
    );
    const root = rowsOf(text, text.includes('Crops') ? customers : scope);
    expect(root?.items.map((i) => (i.kind === 'row' ? i.comparison : i.join))).toEqual(comparison && [comparison]);
  });

  it.each(
    rowComparisons.flatMap((comparison) =>
      deal.fields
        .map((f) => [comparison, f.name, scope.fields.get(f.name)!.type] as const)
        .filter(([, , type]) => comparison.suits(type)),
    ),
  )('$0.key of $1 is written and read', (comparison, subject) => {
    const values = { none: [], one: ['Signing date'], two: ['Amount', 'Cost'], many: ['Title', 'null'] }[
      comparison.takes
    ];
    const text = printRow(subject, comparison.key, values);
    expect(rowsOf(text, scope)?.items).toEqual([
      { kind: 'row', subject, comparison: comparison.key, values, open: false, from: 0, to: text.length },
    ]);
    expect(printRow(subject, comparison.key, [])).toContain(subject);
  });

  it('an edit changes what it says and nothing else', () => {
    const act = fc.constantFrom('none', 'add', 'remove', 'join', 'replace');
    fc.assert(
      fc.property(tree, fc.nat(), fc.nat(), act, samples, (text, a, b, what, sample) => {
        const root = rowsOf(text, scope);
        fc.pre(root !== undefined);
        const groups = groupsOf(root!);
        const g = groups[a % groups.length]!;
        const at = b % g.items.length;
        const chosen = g.items[at]!;
        fc.pre(what !== 'replace' || chosen.kind === 'row');
        const row = 'Amount >= 4';
        const other = printRow('Amount', 'at least', ['if Stage = "Won" then 3 else 6']);
        const now = {
          none: () => text,
          add: () => addRow(text, root!, g, row),
          remove: () => removeItem(text, root!, g, at),
          join: () => changeJoin(text, root!, g),
          replace: () => replaceRow(text, chosen as ConditionRow, other),
        }[what]!();
        const edited = (item: Item): Value => {
          if (what === 'replace' && item === chosen) return truth(other, sample);
          if (item.kind === 'row') return said(item, text, sample);
          const gone = (i: Item): boolean => what === 'remove' && (i === chosen || (i === g && g.items.length === 1));
          const values = item.items.filter((i) => !gone(i)).map(edited);
          if (what === 'add' && item === g) values.push(truth(row, sample));
          const join = what === 'join' && item === g ? (g.join === 'all' ? 'any' : 'all') : item.join;
          return joined(join, values);
        };
        expect(truth(now.trim() || 'true', sample), `${what}: ${now}`).toBe(now.trim() ? edited(root!) : true);
      }),
      { numRuns: runsOf(1000) },
    );
  });

  it('rows are taken out one after the other, and the group that is left empty goes with its last', () => {
    /** The path of indexes to some row. */
    const someRow = (g: ConditionGroup, pick: number): { readonly g: ConditionGroup; readonly i: number } => {
      const i = pick % g.items.length;
      const item = g.items[i]!;
      return item.kind === 'row' ? { g, i } : someRow(item, pick >> 1);
    };
    const count = (g: ConditionGroup): number =>
      g.items.reduce((sum, item) => sum + (item.kind === 'row' ? 1 : count(item)), 0);
    fc.assert(
      fc.property(tree, fc.array(fc.nat(1000), { minLength: 20, maxLength: 20 }), (start, picks) => {
        let text = start;
        for (const pick of picks) {
          const root = rowsOf(text, scope)!;
          const before = count(root);
          if (before === 0) break;
          const { g, i } = someRow(root, pick);
          text = removeItem(text, root, g, i);
          expect(count(rowsOf(text, scope)!)).toBe(before - 1);
        }
        expect(text).toBe('');
      }),
      { numRuns: 60 },
    );
    const root = rowsOf('', scope)!;
    expect(addRow('', root, root, 'Amount > 9')).toBe('Amount > 9');
  });
});

/** Mapping tables: cells, hit policies, look-ups that give what looking through all rows gives. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Cell, MappingTable } from '../../document/document.ts';
import { parseDate } from '../../values/calendar.ts';
import { FeelRange, type Value } from '../../values/value.ts';
import { Meter } from '../../values/meter.ts';
import { acceptsCell, hashKey } from './cells.ts';
import { compileTable, TableMemory } from './table.ts';

const table = (rows: readonly Record<string, Cell>[], more: Partial<MappingTable> = {}): MappingTable => ({
  key: 't',
  name: 'T',
  purpose: '',
  hitPolicy: 'unique',
  keys: [{ key: 'age', name: 'Age', type: 'number' }],
  outputs: [{ key: 'out', name: 'Out' }],
  rows,
  ...more,
});
const book = { recordTypes: [] };
const find = (t: MappingTable, ...keys: Value[]): unknown => {
  const hit = compileTable(t, book).find(keys);
  return hit.found === 'one' ? hit.values[0] : hit.found;
};

// The hit policies of OMG DMN 1.3, 8.2.10, with an example of overlapping discounts like those of its tables; from memory.
describe('hit policies', () => {
  const rows = [
    { age: { from: 18 }, out: 'b' },
    { age: { from: 60 }, out: 'a' },
    { age: { from: 65 }, out: 'a' },
  ];
  const order = [{ key: 'out', name: 'Out', order: ['a', 'b'] }];
  const counted = (aggregation: NonNullable<MappingTable['aggregation']>): Partial<MappingTable> => ({
    hitPolicy: 'collect',
    aggregation,
    outputs: [{ key: 'out', name: 'Out', type: 'number' }],
    rows: [
      { age: { from: 18 }, out: 5 },
      { age: { from: 60 }, out: 10 },
      { age: { from: 65 }, out: 2.5 },
    ],
  });
  it.each<[string, Partial<MappingTable>, number, unknown]>([
    ['unique: one', {}, 20, 'b'],
    ['unique: several', {}, 61, 'several'],
    ['none', {}, 3, 'none'],
    ['any: they differ', { hitPolicy: 'any' }, 61, 'several'],
    ['any: they agree', { hitPolicy: 'any', rows: rows.slice(1) }, 66, 'a'],
    ['first', { hitPolicy: 'first' }, 66, 'b'],
    ['priority', { hitPolicy: 'priority', outputs: order }, 66, 'a'],
    ['rule order', { hitPolicy: 'rule order' }, 66, ['b', 'a', 'a']],
    ['output order', { hitPolicy: 'output order', outputs: order }, 66, ['a', 'a', 'b']],
    ['collect', { hitPolicy: 'collect' }, 61, ['b', 'a']],
    ['collect sum', counted('sum'), 66, 17.5],
    ['collect min', counted('min'), 66, 2.5],
    ['collect max', counted('max'), 66, 10],
    ['collect count', counted('count'), 66, 3],
    ['collect count of none', counted('count'), 3, 0],
    ['collect sum of none', counted('sum'), 3, 'none'],
    ['collect sum of blanks', { ...counted('sum'), rows: [{ age: { from: 1 } }] }, 3, null],
    ['collect sum of texts', { hitPolicy: 'collect', aggregation: 'sum' }, 61, null],
    ['collect max of texts', { hitPolicy: 'collect', aggregation: 'max' }, 61, 'b'],
    [
      'output order, what is not in it last',
      { hitPolicy: 'output order', outputs: [{ ...order[0]!, order: ['b'] }] },
      66,
      ['b', 'a', 'a'],
    ],
  ])('%s', (_, more, age, expected) => {
    expect(find(table(rows, more), age)).toEqual(expected);
  });
});

describe('cells', () => {
  const keys = [{ key: 'k', name: 'K' }];
  it.each<[string, Partial<MappingTable>, Cell, Value, boolean]>([
    ['a value', { keys }, 'Fen', 'Fen', true],
    ['case counts', { keys }, 'Fen', 'fen', false],
    ['case and spaces folded', { keys: [{ ...keys[0]!, match: 'folded' }] }, 'Straße  1', 'STRASSE 1', true],
    ['the longest beginning', { keys: [{ ...keys[0]!, match: 'prefix' }] }, '41', '4100-100', true],
    ['a list', { keys }, ['Fen', 'Moor'], 'Moor', true],
    ['any', { keys }, null, 'whatever', true],
    ['any, blank too', { keys }, null, null, true],
    ['blank', { keys }, { blank: true }, null, true],
    ['blank is not a value', { keys }, { blank: true }, 'x', false],
    ['a range with its ends', {}, { from: 1, to: 5, toClosed: true }, 5, true],
    ['a range without', {}, { from: 1, fromOpen: true, to: 5 }, 1, false],
    ['unary tests', {}, { tests: '< 5, [7..9]' }, 8, true],
    ['a date', { keys: [{ ...keys[0]!, type: 'date' }] }, '2026-05-03', null, false],
    ['yes', { keys: [{ ...keys[0]!, type: 'yes/no' }] }, true, true, true],
    ['no', { keys: [{ ...keys[0]!, type: 'yes/no' }] }, true, false, false],
    ['a day in tests', { keys }, { tests: 'date("2026-05-03")' }, parseDate('2026-05-03'), true],
    ['nothing in tests', { keys }, { tests: 'null' }, null, true],
    ['a list in tests', { keys }, { tests: '["Fen", "Moor"], [1..2]' }, 'Moor', true],
    ['a longer text is no number', {}, { from: 1, to: 5 }, 'one', false],
  ])('%s', (_, more, cell, value, expected) => {
    const t = compileTable(
      table(
        [{ age: cell, k: cell, out: 'x' }].map(({ age, k, out }) => (more.keys ? { k, out } : { age, out })),
        more,
      ),
      book,
    );
    expect(t.diagnostics).toEqual([]);
    expect(t.find([value]).found === 'one').toBe(expected);
  });

  it.each<[string, Partial<MappingTable>, Record<string, Cell>, RegExp]>([
    ['no number', {}, { age: 'many' }, /Age: many is not a number/],
    ['no such column', {}, { age: 1, colour: 'red' }, /colour/],
    ['tests that do not parse', {}, { age: { tests: '< <' } }, /Age:/],
    ['no key', { keys: [] }, {}, /no key column/],
    ['an empty list', {}, { age: [] }, /Age: The cell cannot be read/],
    ['a range of no numbers', {}, { age: { from: 'one' } }, /Age: one is not a number/],
    ['a range without ends', {}, { age: { toClosed: true } as Cell }, /Age: The cell cannot be read/],
    ['tests of what there is not', {}, { age: { tests: '> colour' } }, /Age:.*colour/],
    ['a range to give', {}, { age: 1, out: { from: 1, to: 2 } }, /Out: The cell cannot be read/],
    [
      'no number to give',
      { outputs: [{ key: 'out', name: 'Out', type: 'number' }] },
      { age: 1, out: 'x' },
      /Out: x is not/,
    ],
    ['a policy without an order', { hitPolicy: 'priority' }, { age: 1 }, /order/],
  ])('%s is said in words', (_, more, row, message) => {
    expect(
      compileTable(table([row], more), book)
        .diagnostics.map((d) => d.message)
        .join(' '),
    ).toMatch(message);
  });
});

describe('rows in formulas', () => {
  const columns: Partial<MappingTable> = {
    keys: [
      { key: 'k', name: 'K' },
      { key: 'b', name: 'B', type: 'yes/no' },
    ],
    outputs: [{ key: 'out', name: 'Out', type: 'number' }],
  };
  const t = compileTable(
    table(
      [
        { k: 'Fen', b: true, out: 1 },
        { k: ['Fen', 'Moor'], b: null, out: 2 },
        { k: 'Fen', b: false, out: 1 },
        { k: { tests: '"x"' }, b: { blank: true } },
      ],
      columns,
    ),
    book,
  );
  it('a cell is its value, the list of them, or blank for any', () => {
    expect(t.rows.map((row) => [...row.values()])).toEqual([
      ['Fen', true, 1],
      [['Fen', 'Moor'], null, 2],
      ['Fen', false, 1],
      [null, null, null],
    ]);
    const ranged = compileTable(table([{ age: { from: 1, to: 2 }, out: 'x' }]), book);
    expect(String(ranged.rows[0]!.get('Age'))).toBe(String(new FeelRange(1, 2, true, false)));
  });
  it.each<[string, Value, number[] | undefined]>([
    ['Out', 1, [0, 2]],
    ['Out', 3, []],
    ['Out', [1], undefined],
    ['B', true, [0]],
    ['B', false, [2]],
    ['K', 'Fen', undefined],
  ])('those where %s is %s are found by it, where the column holds nothing but plain values', (column, v, rows) => {
    expect(t.equal(column, v)).toEqual(rows?.map((i) => t.rows[i]));
  });
});

describe('look-ups', () => {
  const cell: fc.Arbitrary<Cell> = fc.oneof(
    fc.integer({ min: 0, max: 9 }),
    fc.array(fc.integer({ min: 0, max: 9 }), { minLength: 1, maxLength: 3 }),
    fc.constant(null),
    fc.constant({ blank: true } as const),
    fc
      .tuple(fc.integer({ min: 0, max: 9 }), fc.integer({ min: 0, max: 4 }))
      .map(([from, n]) => ({ from, to: from + n + 1 })),
    fc.constant({ tests: '> 5' }),
  );
  const rows = fc.array(fc.tuple(cell, cell), { maxLength: 25 });
  const key = fc.option(fc.integer({ min: 0, max: 10 }), { nil: null });

  it('find the rows that looking through all of them finds', () => {
    fc.assert(
      fc.property(rows, key, key, (cells, a, b) => {
        const keys = [
          { key: 'a', name: 'A', type: 'number' } as const,
          { key: 'b', name: 'B', type: 'number' } as const,
        ];
        const t = compileTable(
          table(
            cells.map(([x, y]) => ({ a: x, b: y })),
            { keys },
          ),
          book,
        );
        const slow = t.table.rows.flatMap((_, i) =>
          t.keyCells(i).every((c, k) => acceptsCell(c, [a, b][k]!, hashKey([a, b][k]!, keys[k]!), new Meter()))
            ? [i]
            : [],
        );
        expect([...t.matching([a, b])]).toEqual(slow);
      }),
    );
  });

  it('are the same after edits as of a table that is read for the first time', () => {
    const bad = fc.constant<Cell>('no number');
    const many = fc.array(fc.tuple(fc.oneof({ weight: 9, arbitrary: cell }, { weight: 1, arbitrary: bad }), cell), {
      maxLength: 12,
    });
    const edit = fc.record({ at: fc.nat(12), out: fc.nat(3), in: many, moved: fc.boolean() });
    fc.assert(
      fc.property(many, fc.array(edit, { minLength: 1, maxLength: 4 }), key, key, (first, edits, a, b) => {
        const asRows = (cells: readonly (readonly [Cell, Cell])[]) => cells.map(([x, y]) => ({ a: x, b: y }));
        const columns = {
          keys: [{ key: 'a', name: 'A', type: 'number' } as const, { key: 'b', name: 'B', type: 'number' } as const],
        };
        let edited = table(asRows(first), columns);
        const memory = new TableMemory();
        memory.compile(edited, book);
        for (const { at, out, in: into, moved } of edits) {
          const rows = [...edited.rows];
          const taken = rows.splice(at, out, ...asRows(into));
          edited = { ...edited, rows: moved ? [...taken, ...rows] : rows };
          memory.compile(edited, book);
        }
        const again = memory.compile(edited, book);
        const anew = compileTable(edited, book);
        expect(again.diagnostics).toEqual(anew.diagnostics);
        expect(again.matching([a, b])).toEqual(anew.matching([a, b]));
      }),
    );
  });

  it('a row of long lists is one row, not every way to choose from them', () => {
    const list = (name: string) => Array.from({ length: 400 }, (_, i) => `${name}${i}`);
    const keys = ['x', 'y', 'z'].map((key) => ({ key, name: key }));
    const t = table([{ x: list('a'), y: list('b'), z: list('c'), out: 'found' }], { keys });
    expect([find(t, 'a7', 'b399', 'c0'), find(t, 'a7', 'b400', 'c0')]).toEqual(['found', 'none']);
  });

  it('ranges that do not overlap are searched', () => {
    const cells = Array.from({ length: 300 }, (_, i) => ({ age: { from: i * 10, to: i * 10 + 10 }, out: `r${i}` }));
    const t = table(cells);
    expect([0, 9.5, 10, 2999.9, 3000, -1].map((n) => find(t, n))).toEqual(['r0', 'r0', 'r1', 'r299', 'none', 'none']);
  });

  it.each<[string, Cell]>([
    ['one overlaps another', { from: 5, to: 15 }],
    ['one has no end', { from: 2500 }],
    ['one has no beginning', { to: 3 }],
    ['one is no range', { tests: '3001' }],
  ])('ranges of which %s are looked through', (_, cell) => {
    const cells = Array.from({ length: 300 }, (_, i) => ({ age: { from: i * 10, to: i * 10 + 10 }, out: `r${i}` }));
    const t = compileTable(table([...cells, { age: cell, out: 'more' }], { hitPolicy: 'rule order' }), book);
    const more = compileTable(table([{ age: cell, out: 'more' }]), book);
    for (const n of [0, 3, 5, 9, 10, 14.5, 15, 2500, 2999.9, 3000, 3001, -1]) {
      const own = n >= 0 && n < 3000 ? [Math.floor(n / 10)] : [];
      expect(t.matching([n])).toEqual([...own, ...(more.matching([n]).length > 0 ? [300] : [])]);
    }
    expect(t.matching(['one'])).toEqual(more.matching(['one']).length > 0 ? [300] : []);
  });

  it('so are ranges of dates', () => {
    const from = (year: number): Cell => ({ from: `${year}-01-01`, to: `${year}-12-31`, toClosed: year % 2 === 0 });
    const keys = [{ key: 'on', name: 'On', type: 'date' } as const];
    const years = Array.from({ length: 8000 }, (_, i) => 1000 + i);
    const t = table(
      [...years.map((y) => ({ on: from(y), out: String(y) })), { on: { to: '1000-01-01' }, out: 'old' }],
      {
        keys,
      },
    );
    const asked = ['1000-01-01', '2026-12-31', '2027-12-31', '8999-06-30', '0999-12-31', '9000-01-01'];
    const found = asked.map((text) => find(t, parseDate(text)));
    expect([...found, find(t, 7), find(t, null)]).toEqual([
      '1000',
      '2026',
      'none',
      '8999',
      'old',
      'none',
      'none',
      'none',
    ]);
  });
});

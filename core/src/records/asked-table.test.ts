/** Rows of mapping tables that are asked for: the answer is that of the table with all its rows. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compileTable } from '../compile/mapping/table.ts';
import { hitPolicies, type Cell, type MappingTable } from '../document/document.ts';
import { parseDate, parseDateTime, parseDuration, parseTime } from '../values/calendar.ts';
import { Exhausted } from '../values/meter.ts';
import { parseNumber } from '../values/number.ts';
import type { Value } from '../values/value.ts';
import { runsOf } from '../testing/runs.ts';
import { AskedTable, receivedKey, rowsFor, sentKey } from './asked-table.ts';
import { AnsweredRows, type RowsQuery } from './row-answers.ts';

const book = { recordTypes: [] };
const word = fc.constantFrom('Al', 'alder', 'Alder', ' alder ', 'Fen 1', 'fen');
const number = fc.integer({ min: 0, max: 4 });
const cell = (plain: fc.Arbitrary<string | number>, ...more: readonly Cell[]): fc.Arbitrary<Cell> =>
  fc.oneof(
    plain,
    fc.array(plain, { minLength: 1, maxLength: 3 }),
    fc.constantFrom<Cell>(null, { blank: true }, ...more),
  );
const ranges: readonly Cell[] = [{ from: 1, to: 3 }, { from: 3 }, { tests: '> 2' }];
const table: fc.Arbitrary<MappingTable> = fc
  .record({
    hitPolicy: fc.constantFrom(...hitPolicies),
    aggregation: fc.option(fc.constantFrom('sum', 'min', 'max', 'count'), { nil: undefined }),
    match: fc.constantFrom('exact', 'folded', 'prefix'),
    rows: fc.array(
      fc.record({ name: cell(word), count: cell(number, ...ranges), out: fc.oneof(number, fc.constant(null)) }),
      {
        maxLength: 20,
      },
    ),
  })
  .map(({ hitPolicy, aggregation, match, rows }) => ({
    key: 't',
    name: 'T',
    purpose: '',
    hitPolicy,
    ...(aggregation && hitPolicy === 'collect' ? { aggregation } : {}),
    keys: [
      { key: 'name', name: 'Name', type: 'text', match },
      { key: 'count', name: 'Count', type: 'number' },
    ],
    outputs: [{ key: 'out', name: 'Out', type: 'number', order: [5, 3, 1] }],
    rows,
  })) as fc.Arbitrary<MappingTable>;

const kinds: readonly (readonly [string, Value])[] = [
  ['blank', null],
  ['an empty list', []],
  ['text', 'n1'],
  ['a number', 12.5],
  ['a long number', parseNumber('12345678901234567890.125')],
  ['yes', true],
  ['a date', parseDate('2026-05-03')],
  ['a time', parseTime('09:00:00')],
  ['a date and time', parseDateTime('2026-05-03T09:00:00+01:00')],
  ['a duration', parseDuration('P1DT2H')],
  ['a list', ['a', null, 3, parseDate('2026-05-03')]],
];

describe('a table whose rows stand elsewhere', () => {
  it('finds what it finds with all its rows', () => {
    fc.assert(
      fc.property(table, fc.option(word, { nil: null }), fc.option(number, { nil: null }), (t, ...keys) => {
        const whole = compileTable(t, book);
        // What goes over is JSON, both ways.
        const ask = (query: RowsQuery) => {
          const received = JSON.parse(JSON.stringify(query)) as RowsQuery;
          return JSON.parse(JSON.stringify(rowsFor(received, whole))) as ReturnType<typeof rowsFor>;
        };
        expect(new AskedTable({ ...t, rows: [] }, book, ask).find(keys)).toEqual(whole.find(keys));
      }),
      { numRuns: runsOf(500) },
    );
  });

  it.each(kinds)('is asked with %s', (_, v) => {
    const received = receivedKey(JSON.parse(JSON.stringify(sentKey(v))) as ReturnType<typeof sentKey>);
    expect(received).toEqual(Array.isArray(v) && v.length === 0 ? null : v);
  });

  it.each<readonly [string, readonly string[], readonly number[]]>([
    ['a key that is no value of a cell fits the rows for any alone', ['x', 'n1'], [1]],
    ['a kind of key that nobody sends is such a one', ['q?', 'n1'], [1]],
    ['a date that is none is blank', ['d2026-13-99', 'n1'], [1]],
    ['fewer keys than columns fit none', ['sA'], []],
  ])('%s', (_, keys, wanted) => {
    const rows = [
      { name: 'A', count: 1, out: 1 },
      { count: 1, out: 2 },
    ];
    const [t] = fc.sample(table, { numRuns: 1, seed: 1 });
    const exact = { ...t!, keys: t!.keys.map(({ match: _, ...k }) => k), rows };
    expect(rowsFor({ table: 't', keys }, compileTable(exact, book))?.map((r) => r.index)).toEqual(wanted);
  });

  it('says where to find rows takes more than a formula may, and raises what the whole table does', () => {
    const [t] = fc.sample(table, { numRuns: 1, seed: 1 });
    const rows = Array.from({ length: 2000 }, () => ({
      name: 'A',
      count: { tests: '> sum(for i in 1..2000 return i)' },
    }));
    const heavy = { ...t!, hitPolicy: 'first' as const, keys: t!.keys.map(({ match: _, ...k }) => k), rows };
    const whole = compileTable(heavy, book);
    expect(whole.diagnostics).toEqual([]);
    expect(() => whole.find(['A', 1])).toThrow(Exhausted);
    const asked = new AskedTable({ ...heavy, rows: [] }, book, (query) => rowsFor(query, whole));
    expect(() => asked.find(['A', 1])).toThrow(Exhausted);
  });

  it('keeps an answer for the question that it belongs to', () => {
    const rows = new AnsweredRows(new Set(['t']));
    rows.put({ table: 't', keys: ['sA'] }, [{ index: 4, row: { out: 1 } }]);
    expect([rows.has('t'), rows.has('u')]).toEqual([true, false]);
    expect(rows.answer({ table: 't', keys: ['sA'] })).toHaveLength(1);
    expect(rows.answer({ table: 't', keys: ['sB'] })).toBeUndefined();
  });
});

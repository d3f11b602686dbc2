import { draft } from '@rigid-rule/demo';
import { describe, expect, it } from 'vitest';
import { beginTable, columnName, columnsFrom, isUntouched } from './new-table.ts';

describe('columns by headings', () => {
  it('those that name fields of one record type hold its values', () => {
    const columns = columnsFrom(['home COUNTRY', 'Region', 'Opening hours'], draft.recordTypes);
    expect(columns.map((c) => [c.name, c.field])).toEqual([
      ['home COUNTRY', 'customer.home_country'],
      ['Region', 'customer.region'],
      ['Opening hours', undefined],
    ]);
  });

  it('every column has a key and a name of its own, which formulas can say', () => {
    const columns = columnsFrom(['Price (net)', 'Price (net)', '2026', 'for', ''], draft.recordTypes);
    expect(columns.map((c) => c.name)).toEqual(['Price net', 'Price net 2', 'No 2026', 'for column', 'Column']);
    expect(new Set(columns.map((c) => c.key)).size).toBe(columns.length);
  });

  it.each([
    ['Region', [], 'Region'],
    ['Region', ['Region'], 'Region 2'],
    ['  a - b ', [], 'a b'],
  ] as const)('%s beside %o is called %s', (heading, taken, name) => {
    expect(columnName(heading, new Set(taken))).toBe(name);
  });
});

it('a new table is untouched until something is made of it', () => {
  const table = beginTable('x', 'X');
  expect(isUntouched(table)).toBe(true);
  expect(isUntouched({ ...table, rows: [{ key: 'a' }] })).toBe(false);
  expect(isUntouched({ ...table, outputs: [...table.outputs, { key: 'more', name: 'More' }] })).toBe(false);
});

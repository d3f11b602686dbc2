import { describe, expect, it } from 'vitest';
import type { MappingTable } from '../../document/document.ts';
import { dealBook } from '../../testing/deals.ts';
import { coverageOf, keySourceOf, type HeldValues } from './coverage.ts';

const base = dealBook([]);
const table: MappingTable = {
  key: 'terms',
  name: 'Terms',
  purpose: '',
  hitPolicy: 'unique',
  keys: [{ key: 'country', name: 'Country', field: 'customer.country' }],
  outputs: [{ key: 'days', name: 'Days', type: 'number' }],
  rows: [{ country: 'Portugal', days: 30 }, { country: 'Norway' }],
};
const book = { ...base, tables: [table] };
const countries = (...counts: readonly (readonly [string | null, number])[]): HeldValues[] =>
  counts.map(([country, count]) => ({ held: [country], count }));
const options = base.recordTypes.find((t) => t.key === 'customer')!.fields.find((f) => f.key === 'country')!.options!;
const keyOf = (name: string): string => options.find((o) => o.name === name)!.key;

describe('a table against records', () => {
  it('takes its keys from the fields that its columns hold, or from the rule that asks it', () => {
    expect(keySourceOf(table, book)?.fields).toEqual(['country']);
    const loose = { ...table, keys: [{ key: 'country', name: 'Country' }] };
    expect(keySourceOf(loose, book)).toBeUndefined();
    const rule = {
      ...base.rules[0]!,
      kind: 'map',
      recordType: 'customer',
      outcome: { source: { by: 'table', table: 'terms', keys: { country: ' Home country ' } } },
    };
    expect(keySourceOf(loose, { ...book, rules: [rule as never] })?.fields).toEqual(['country']);
  });

  it('counts the records of each row, and lists the keys that no row answers, most seen first', () => {
    const source = keySourceOf(table, book)!;
    const [pt, no, es] = ['Portugal', 'Norway', 'Spain'].map(keyOf);
    const records = countries([no!, 1], [pt!, 2], [null, 1], [es!, 3]);
    expect(coverageOf(table, source, records, book)).toEqual({
      hits: [2, 1],
      gaps: [{ cells: { country: 'Spain' }, count: 3 }],
      blank: 1,
      total: 7,
    });
  });

  it('a gap, added as a row, is a gap no more', () => {
    const source = keySourceOf(table, book)!;
    const records = countries([keyOf('Spain'), 1]);
    const [gap] = coverageOf(table, source, records, book).gaps;
    const filled = { ...table, rows: [...table.rows, gap!.cells] };
    expect(coverageOf(filled, source, records, book).gaps).toEqual([]);
  });
});

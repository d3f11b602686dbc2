import { applyPatch, type MappingTable } from '@rigid-rule/core/document';
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { rowOperations } from './row-operations.ts';

const rowsOf = (count: number): MappingTable['rows'] => Array.from({ length: count }, (_, i) => ({ code: `${i}` }));

it('lead from the rows to the others, whatever happened to them', () => {
  const rows = rowsOf(600);
  const change = fc.record({ at: fc.nat(599), removed: fc.nat(3), added: fc.nat(3) });
  fc.assert(
    fc.property(fc.array(change, { maxLength: 5 }), fc.boolean(), (changes, reversed) => {
      const spliced = changes.reduce<MappingTable['rows']>(
        (all, { at, removed, added }) => all.toSpliced(at, removed, ...rowsOf(added)),
        rows,
      );
      const after = reversed ? spliced.toReversed() : spliced;
      expect(applyPatch({ rows }, rowOperations(rows, after)).value).toEqual({ rows: after });
    }),
  );
});

it.each<[string, (rows: MappingTable['rows']) => MappingTable['rows'], number]>([
  ['one row in the place of another', (rows) => rows.with(7, { code: 'x' }), 1],
  ['a row that says the same', (rows) => rows.with(7, { ...rows[7]! }), 0],
  ['rows at the end', (rows) => [...rows, ...rowsOf(300)], 300],
  ['rows that go', (rows) => rows.filter((_, i) => i % 4 !== 0), 250],
])('%s of a long table: told one by one', (_, change, count) => {
  const rows = rowsOf(1000);
  const operations = rowOperations(rows, change(rows));
  expect(operations).toHaveLength(count);
  expect(operations.every((o) => o.path !== '/rows')).toBe(true);
});

it('most of a long table is told as a whole', () => {
  const rows = rowsOf(1000);
  const after = rows.map((row, i) => (i % 3 ? { code: `x${i}` } : row));
  expect(rowOperations(rows, after)).toEqual([{ op: 'replace', path: '/rows', value: after }]);
});

import { describe, expect, it } from 'vitest';
import type { Field, MappingTable } from '../../document/document.ts';
import { dealBook } from '../../testing/deals.ts';
import { fieldTypes } from '../../language/field-types/index.ts';
import { compileTable } from './table.ts';
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

  it('a rule of another table, or whose keys are no plain fields, gives none', () => {
    const loose = { ...table, keys: [{ key: 'country', name: 'Country' }] };
    const rule = (source: object, recordType = 'customer') => ({
      ...base.rules[0]!,
      kind: 'map',
      recordType,
      outcome: { source },
    });
    const by = (table: string, country: string) => ({ by: 'table', table, keys: { country } });
    const rules = [
      rule(by('other', 'Home country')),
      rule(by('terms', 'upper case(Home country)')),
      rule(by('terms', 'Home country'), 'gone'),
    ];
    expect(keySourceOf(loose, { ...book, rules: rules as never })).toBeUndefined();
  });

  it('gaps seen as often stand in the order of what they hold; a question that takes too much work has no answer', () => {
    const source = keySourceOf(table, book)!;
    const [es, no] = ['Spain', 'Norway'].map(keyOf);
    const one = compileTable({ ...table, rows: [] }, book);
    for (const records of [countries([es!, 2], [no!, 2]), countries([no!, 2], [es!, 2])])
      expect(coverageOf(one, source, records).gaps.map((g) => g.cells['country'])).toEqual(['Norway', 'Spain']);
    const heavy = { ...table, rows: [{ country: { tests: 'count(for i in 1..100000 return i) = 1' } }] };
    expect(coverageOf(compileTable(heavy, book), source, countries([es!, 2]))).toMatchObject({ hits: [0], total: 2 });
  });

  it('counts the records of each row, and lists the keys that no row answers, most seen first', () => {
    const source = keySourceOf(table, book)!;
    const [pt, no, es] = ['Portugal', 'Norway', 'Spain'].map(keyOf);
    const records = countries([no!, 1], [pt!, 2], [null, 1], [es!, 3]);
    expect(coverageOf(compileTable(table, book), source, records)).toEqual({
      hits: [2, 1],
      gaps: [{ cells: { country: 'Spain' }, count: 3 }],
      blank: 1,
      total: 7,
    });
  });

  it.each(fieldTypes.map((type) => [type.key, type] as const))(
    'a gap of a %s, added as a row, is a gap no more',
    (_, type) => {
      const options = [{ key: 'one', name: 'One' }];
      const field: Field = { key: 'x', name: 'X', type: type.key, ...(type.chooses ? { options } : {}) };
      const coerced = type.coerce(
        type.chooses ? options.slice(0, type.chooses === 'many' ? 1 : 0).map((o) => o.name) : type.example,
        field,
      );
      const stored = type.chooses === 'one' ? 'one' : 'value' in coerced ? coerced.value : null;
      expect(stored).not.toBeNull();
      const recordType = { ...base.recordTypes[0]!, key: 'thing', fields: [field] };
      const own = { recordTypes: [recordType], rules: [] };
      for (const match of ['exact', 'folded'] as const) {
        const keyed = { ...table, keys: [{ key: 'k', name: 'K', field: 'thing.x', match }], rows: [] };
        const source = { recordType, fields: ['x'] };
        const values: HeldValues[] = [
          { held: [stored], count: 2 },
          { held: [null], count: 1 },
        ];
        const { gaps } = coverageOf(compileTable(keyed, own as never), source, values);
        // No cell names a record, or several options at once: no row is offered for them.
        const nameable = type.links === undefined && type.chooses !== 'many';
        expect(gaps).toHaveLength(nameable ? 1 : 0);
        if (!gaps[0]) continue;
        const filled = { ...keyed, rows: [gaps[0].cells] };
        const compiled = compileTable(filled, own as never);
        expect(compiled.diagnostics).toEqual([]);
        expect(coverageOf(compiled, source, values)).toMatchObject({ gaps: [], hits: [2] });
      }
    },
  );
});

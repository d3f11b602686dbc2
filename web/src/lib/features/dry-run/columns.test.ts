import { draft } from '@rigid-rule/demo';
import type { Field } from '@rigid-rule/core/document';
import { fieldTypeOf } from '@rigid-rule/core/language';
import { expect, it } from 'vitest';
import { writtenForm } from '../../locale.ts';
import { writtenAs, type Written } from '../../written-lines.ts';
import { bothWays, matchColumns, neutrally, readRecords } from './columns.ts';

const customer = draft.recordTypes.find((t) => t.key === 'customer')!;
const match = (header: string[], rows: string[][], remembered = {}) =>
  matchColumns(header, rows, customer, remembered).map((c) => [c.field, c.because]);

it('columns are matched as before, by name, by content, or left out', () => {
  const rows = [
    ['Fen', '12', 'Small', 'x'],
    ['Moss', '300', 'Large', 'y'],
  ];
  expect(match(['NAME', 'Heads', 'Class', 'Remark'], rows, { Heads: 'employee_count' })).toEqual([
    ['name', 'name'],
    ['employee_count', 'as before'],
    ['size_class', 'content'],
    [undefined, 'nothing like it'],
  ]);
});

it('what is no value of its field is left blank, counted and told with its row; links may be said by title', () => {
  const columns = matchColumns(['Name', 'Employee count', 'Service area'], [], customer);
  const { records, misfits } = readRecords(
    [
      ['Fen', 'many', 'Fernhollow'],
      ['Moss', '1,200', ''],
    ],
    columns,
    customer,
    neutrally,
    (type, title) => (type === 'service_area' && title === 'Fernhollow' ? '7' : undefined),
  );
  expect(records).toEqual([
    { id: 1, data: { name: 'Fen', service_area: '7' } },
    { id: 2, data: { name: 'Moss', employee_count: 1200 } },
  ]);
  expect(misfits.map((m) => [m.count, m.row])).toEqual([
    [0, 0],
    [1, 1],
    [0, 0],
  ]);
  expect(misfits[1]!.first).toContain('many');
});

const german = writtenForm({ tag: 'de-DE', currency: 'EUR' });
const germanly = (field: Field, text: string): unknown => {
  const { written, parse } = fieldTypeOf(field);
  return parse(written === 'day' ? german.typedDay(text) : written ? german.typedNumber(text) : text, field);
};

it.each<readonly [cells: readonly (readonly [count: string, reviewed: string])[], Written | undefined]>([
  [[['12', '2026-05-03']], undefined],
  [[['many', 'soon']], undefined],
  [[['12', '3.5.2026']], 'own'],
  [[['1.200', '3. Mai 2026']], 'own'],
  [[['1,200', '2026-05-03']], 'neutral'],
  // Nobody can tell: what programs write is taken, and said.
  [[['1.200', '2026-05-03']], 'neutral'],
])('how a file is written is told by what fits: %j', (rows, written) => {
  const columns = matchColumns(['Open deal value', 'Reviewed on'], [], customer);
  expect(columns.map((c) => c.field)).toEqual(['open_deal_value', 'reviewed_on']);
  expect(writtenAs(bothWays(rows, columns, customer, germanly))).toBe(written);
});

it('read as it is written, a thousand is none less', () => {
  const columns = matchColumns(['Open deal value', 'Reviewed on'], [], customer);
  const { records } = readRecords([['1.200,0', '3.5.2026']], columns, customer, germanly);
  expect(records[0]!.data).toEqual({ open_deal_value: 1200, reviewed_on: '2026-05-03' });
});

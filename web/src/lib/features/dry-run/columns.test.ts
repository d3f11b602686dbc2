import { draft } from '@rigid-rule/demo';
import { expect, it } from 'vitest';
import { matchColumns, readRecords } from './columns.ts';

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

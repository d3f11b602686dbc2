import { compileProgram } from '@rigid-rule/core/compile';
import type { MappingTable } from '@rigid-rule/core/document';
import { expect, it } from 'vitest';
import { rulebookOf, sizeClass } from '../../../../core/src/testing/customers.ts';
import { areAsked, tableRows } from './table-rows.ts';

const table = (key: string): MappingTable => ({
  key,
  name: key === 'asked' ? 'Asked' : 'Unasked',
  purpose: '',
  hitPolicy: 'unique',
  keys: [{ key: 'kind', name: 'Kind', type: 'text' }],
  outputs: [{ key: 'rank', name: 'Rank', type: 'number' }],
  rows: [
    { kind: 'Orchard', rank: 7 },
    { kind: 'Vineyard', rank: 9 },
  ],
});
const outcome = {
  source: { by: 'table', table: 'asked', keys: { kind: 'Kind' } },
  outputs: [{ target: 'rank', value: 'rank' }],
  none: { do: 'clear' },
  several: { do: 'clear' },
};
const program = compileProgram({
  ...rulebookOf({ ...sizeClass, kind: 'map', outcome }),
  tables: [table('asked'), table('unasked')],
});
const query = (key: string, ...keys: (string | null)[]) => ({ table: key, keys });

it.each([
  ['a table that a rule asks', [query('asked', 'sOrchard')], true],
  ['a table of the release that no rule asks', [query('asked', 'sOrchard'), query('unasked', 'sOrchard')], false],
  ['a table that there is not', [query('constructor', 'sOrchard')], false],
])('%s is answered or not', (_, queries, asked) => expect(areAsked(program, queries)).toBe(asked));

it('each question has its answer, in their order', async () => {
  const queries = [query('asked', 'sVineyard'), query('asked', 'sFold'), query('asked', null), query('asked')];
  expect(await tableRows(program, queries)).toEqual([[{ index: 1, row: { kind: 'Vineyard', rank: 9 } }], [], [], []]);
});

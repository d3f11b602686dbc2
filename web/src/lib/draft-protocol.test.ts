import type { Operation, PartKind } from '@rigid-rule/core/document';
import { describe, expect, it } from 'vitest';
import { keepsTable, mayEditPart, type EditRights } from './draft-protocol.ts';

const author: EditRights = { editable: true };
const keeper: EditRights = { editable: false, keeper: 'ida@rigid.example' };
const reader: EditRights = { editable: false };
const table = { keepers: ['ida@rigid.example'] };
const replace = (path: string): Operation => ({ op: 'replace', path, value: 'x' });

describe('who may change a part of the draft', () => {
  it.each<[string, EditRights, PartKind, readonly string[], object | undefined, number | undefined, boolean]>([
    ['an author anything', author, 'rule', ['/name'], {}, undefined, true],
    ['an author what is not there yet', author, 'rule', [''], undefined, 3, true],
    ['a keeper a cell', keeper, 'table', ['/rows/3/code'], table, undefined, true],
    ['a keeper all rows', keeper, 'table', ['/rows'], table, undefined, true],
    ['a keeper no other member, however it begins', keeper, 'table', ['/rowsOfOthers'], table, undefined, false],
    ['a keeper no column beside a row', keeper, 'table', ['/rows/0/code', '/keys/0/name'], table, undefined, false],
    ['a keeper not the place of the table', keeper, 'table', ['/rows/0/code'], table, 2, false],
    ['a keeper not the keepers', keeper, 'table', ['/keepers'], table, undefined, false],
    [
      'a keeper no table of others',
      keeper,
      'table',
      ['/rows/0/code'],
      { keepers: ['x@rigid.example'] },
      undefined,
      false,
    ],
    ['a keeper no table without keepers', keeper, 'table', ['/rows/0/code'], {}, undefined, false],
    ['a keeper no rule, whatever it holds', keeper, 'rule', ['/rows/0'], table, undefined, false],
    ['a keeper makes no table', keeper, 'table', ['/rows/0'], undefined, undefined, false],
    ['a reader nothing', reader, 'table', ['/rows/0/code'], table, undefined, false],
  ])('%s', (_, rights, kind, paths, body, position, expected) => {
    expect(mayEditPart(rights, { kind, operations: paths.map(replace), position }, body)).toBe(expected);
  });

  it('a table is kept by those whom it names, and by authors', () => {
    expect([author, keeper, reader].map((rights) => keepsTable(rights, table))).toEqual([true, true, false]);
    expect([author, keeper, reader].map((rights) => keepsTable(rights, undefined))).toEqual([true, false, false]);
  });
});

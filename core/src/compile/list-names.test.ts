import { describe, expect, it } from 'vitest';
import { findingsOf } from '../analysis/findings.ts';
import { editPartBody } from '../document/part-edit.ts';
import type { Field, Rulebook } from '../document/document.ts';
import { dealBook, dealTypes, ruleOf, setTo } from '../testing/deals.ts';
import { freeListName } from './list-names.ts';
import { compileProgram } from './program.ts';

const lookup = (key: string, name: string, more: Partial<Field> = {}): Field => ({
  key,
  name,
  type: 'lookup',
  recordType: 'customer',
  ...more,
});
const total = ruleOf('customer', 'derive', setTo('name', 'if sum(Deals.Amount) > 5 then "large" else "small"'));
const bookWith = (...more: readonly Field[]): Rulebook => ({
  ...dealBook([total]),
  recordTypes: dealTypes.map((t) => (t.key === 'deal' ? { ...t, fields: [...t.fields, ...more] } : t)),
});
const errorsOf = (book: Rulebook) => findingsOf(compileProgram(book)).filter((f) => f.severity === 'error');

describe('the list at the other end of a lookup', () => {
  it.each<[string, Field[], number]>([
    ['one lookup', [], 0],
    ['another, with a name of its own', [lookup('by', 'Referred by', { children: 'Referred deals' })], 0],
    ['another of the usual name', [lookup('by', 'Referred by')], 1],
    ['two others of the usual name', [lookup('by', 'Referred by'), lookup('was', 'Previous customer')], 2],
    ['another by the name of a field there', [lookup('by', 'Referred by', { children: 'Name' })], 1],
  ])('%s', (_, more, count) => expect(errorsOf(bookWith(...more))).toHaveLength(count));

  it('is given a name of its own by its repair, and what rules say goes on meaning what it did', () => {
    const book = bookWith(lookup('by', 'Referred by'));
    const [error] = errorsOf(book);
    const [edit] = error!.repair!.edits;
    expect([error!.repair!.text, edit!.part]).toEqual(['call it Referred by deals', { kind: 'field', key: 'deal.by' }]);
    const named = editPartBody(lookup('by', 'Referred by'), edit!.operations).body as Field;
    const mended = bookWith(named);
    expect(errorsOf(mended)).toEqual([]);
    const lists = compileProgram(mended).types.get('customer')!.childLists;
    expect([lists.get('Deals')?.field, lists.get('Referred by deals')?.field]).toEqual(['customer', 'by']);
  });

  it.each<[string, Field[], string | undefined]>([
    ['the usual name is free', [], undefined],
    ['it is taken', [lookup('other', 'Other')], 'Referred by deals'],
    [
      'so is the next',
      [lookup('other', 'Other'), lookup('third', 'Third', { children: 'Referred by deals' })],
      'Referred by deals 2',
    ],
  ])('%s', (_, others, name) => {
    const own = lookup('by', 'Referred by');
    const types = dealTypes.map((t) =>
      t.key === 'deal' ? { ...t, fields: [...t.fields.filter((f) => f.type !== 'lookup'), ...others, own] } : t,
    );
    expect(
      freeListName(
        own,
        types.find((t) => t.key === 'deal')!,
        { recordTypes: types },
      ),
    ).toBe(name);
  });
});

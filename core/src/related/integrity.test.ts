/** What only the other records know: links lead somewhere, users are users, unique values are unique. */
import { describe, expect, it } from 'vitest';
import type { Author } from '../compile/trace-entry.ts';
import type { RecordType, Stored } from '../document/document.ts';
import { RecordsSource } from '../records/record-source.ts';
import { dealRecords, dealTypes } from '../testing/deals.ts';
import { integrityOf, usersNamed, type Around } from './integrity.ts';

const contact = dealTypes.find((t) => t.key === 'contact')!;
const strict: RecordType = {
  ...contact,
  fields: [
    ...contact.fields.map((f) => (f.key === 'email' ? { ...f, unique: true as const } : f)),
    { key: 'owner', name: 'Owner', type: 'user' },
  ],
};
const known = [...dealRecords, { recordType: 'contact', id: '901', data: { email: 'ana@fen.example' } }];
const source = new RecordsSource(known);
const isUser = (email: string): boolean => email === 'ida@rigid.example';
const change = (field: string, to: Stored, author: Author = { by: 'sent' }) => ({ field, from: null, to, author });
const look = (field: string, to: Stored, more: { author?: Author; answer?: Around['answer']; id?: string } = {}) =>
  integrityOf(strict, more.id ?? '77', [change(field, to, more.author)], dealTypes, {
    answer: more.answer ?? ((query) => source.answer(query)),
    isUser,
  });

describe('a change is refused on its field', () => {
  it.each<[string, string, Stored, string | undefined]>([
    ['a link to a record that is there', 'customer', '1', undefined],
    ['a link to one that is not', 'customer', '404', 'There is no customer 404.'],
    ['a user that there is', 'owner', 'ida@rigid.example', undefined],
    ['a user that there is not', 'owner', 'nobody@rigid.example', 'There is no user nobody@rigid.example.'],
    ['a unique value that nobody has', 'email', 'new@fen.example', undefined],
    [
      'a unique value that another record has',
      'email',
      'ana@fen.example',
      'Contact 901 has this Email already; it has to be the only one.',
    ],
    ['a value without either', 'last', 'Alder', undefined],
    ['a blank', 'customer', null, undefined],
    ['an empty text', 'customer', '', undefined],
    ['a field that there is not', 'nothing', 'x', undefined],
  ])('%s', (_, field, to, text) => {
    const { messages, asks } = look(field, to);
    expect(messages).toEqual(text === undefined ? [] : [{ severity: 'stop', field, text }]);
    expect(asks).toEqual([]);
  });

  it('naming the rule that gave it', () => {
    expect(look('customer', '404', { author: { by: 'rule', rule: 'links' } }).messages).toEqual([
      { severity: 'stop', field: 'customer', text: 'There is no customer 404.', rule: 'links' },
    ]);
  });

  it('never for a value that the record itself has', () => {
    expect(look('email', 'ana@fen.example', { id: '901' }).messages).toEqual([]);
  });

  it('not before the others were asked: each question is told, once', () => {
    const unknown = { answer: () => undefined };
    expect(look('customer', '1', unknown)).toEqual({
      messages: [],
      asks: [{ kind: 'record', recordType: 'customer', id: '1' }],
    });
    expect(look('email', 'a@b.example', unknown).asks).toEqual([
      { kind: 'match', recordType: 'contact', field: 'email', mode: 'exact', value: 'a@b.example' },
    ]);
  });
});

it('users are those that changes name in fields of users', () => {
  expect(
    usersNamed(strict, [
      change('owner', 'ida@rigid.example'),
      change('owner', null),
      change('owner', ''),
      change('email', 'ana@fen.example'),
    ]),
  ).toEqual(['ida@rigid.example']);
});

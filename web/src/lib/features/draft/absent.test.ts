import type { Rulebook } from '@rigid-rule/core/document';
import { expect, it } from 'vitest';
import { absentFrom } from './absent.ts';

const draft: Rulebook = {
  format: 'rigid-rule/1',
  name: '',
  zone: 'UTC',
  currency: 'EUR',
  recordTypes: ['customer', 'deal'].map((key) => ({
    key,
    name: key,
    plural: key,
    title: [],
    fields: [{ key: `${key}_no`, name: 'No', type: 'number' }],
    forms: [],
  })),
  rules: [{ key: 'of_deals', name: 'Of deals', kind: 'set', recordType: 'deal', on: true, body: {} } as never],
  tables: [{ key: 'regions', name: 'Regions', purpose: '', hitPolicy: 'unique', keys: [], outputs: [], rows: [] }],
  tests: [{ key: 't1', name: 'One', recordType: 'deal' } as never],
};

it.each([
  ['everything that it names is there', { type: 'deal', rule: 'of_deals' }, 'field=deal_no&test=t1', undefined],
  ['it names nothing', {}, '', undefined],
  ['a record type', { type: 'lead' }, '', ['record type', 'lead']],
  ['a record type by a name that all objects have', { type: 'constructor' }, '', ['record type', 'constructor']],
  ['before what is in it', { type: 'lead', rule: 'gone' }, 'field=x', ['record type', 'lead']],
  ['a table', { table: 'prices' }, '', ['mapping table', 'prices']],
  ['a rule', { type: 'deal', rule: 'gone' }, '', ['rule', 'gone']],
  ['a rule of another record type', { type: 'customer', rule: 'of_deals' }, '', ['rule', 'of_deals']],
  ['a field', { type: 'deal' }, 'field=gone', ['field', 'gone']],
  ['a field of another record type', { type: 'deal' }, 'field=customer_no', ['field', 'customer_no']],
  ['a test', { type: 'deal', rule: 'of_deals' }, 'test=t2', ['test', 't2']],
])('an address names what is not there: %s', (_, params, asked, absent) => {
  const found = absentFrom(draft, { params, url: { searchParams: new URLSearchParams(asked) } });
  expect(found && [found.what, found.key]).toEqual(absent);
});

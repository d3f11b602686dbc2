import type { RecordType } from '@rigid-rule/core/document';
import { expect, it } from 'vitest';
import { filterParams, readFilters, unreadFilters } from './list-filters.ts';

const type: RecordType = {
  key: 'customer',
  name: 'Customer',
  plural: 'Customers',
  title: ['name'],
  forms: [],
  fields: [
    { key: 'name', name: 'Name', type: 'text' },
    { key: 'staff', name: 'Staff', type: 'number' },
    { key: 'size', name: 'Size', type: 'picklist', options: [{ key: 'small', name: 'Small' }] },
    { key: 'since', name: 'Since', type: 'date' },
  ],
};

it.each([
  ['has.name=fen', ['name'], []],
  ['only.size=small,&from.staff=3&to.staff=9', ['size', 'staff'], []],
  ['from.since=2026-02-28', ['since'], []],
  ['q=x&sort=gone&cols=gone&desc=1&unknown=1', [], []],
  ['has.name=&only.size=', ['size'], []],
  ['only.region=north', [], ['only.region']],
  ['only.staff=3', [], ['only.staff']],
  ['has.size=sm', [], ['has.size']],
  ['from.name=a', [], ['from.name']],
  ['from.since=2026-02-30&to.since=2026-03-01', ['since'], ['from.since']],
  ['is.name=blnk&has.name=fen', ['name'], ['is.name']],
  ['only.constructor=x&only.constructor=y', [], ['only.constructor']],
])('%s filters by %j and leaves %j unread', (asked, read, unread) => {
  const params = new URLSearchParams(asked);
  expect(readFilters(type, params).map((f) => f.field.key)).toEqual(read);
  expect(unreadFilters(type, params)).toEqual(unread);
});

it('what is read is written again as it was', () => {
  const asked = 'only.size=small,&from.staff=3&to.staff=9&has.name=fen&is.since=blank';
  const written = readFilters(type, new URLSearchParams(asked)).flatMap((f) =>
    Object.entries(filterParams(f)).flatMap(([name, value]) => (value === undefined ? [] : [[name, value]])),
  );
  expect(decodeURIComponent(new URLSearchParams(written).toString())).toBe(asked);
});

/** A file of sample records: what it links to is found for the type that its rows are of now. */
import { describe, expect, it } from 'vitest';
import type { RecordType } from '@rigid-rule/core/document';
import { SampleFile } from './sample-file.svelte.ts';

const type = (key: string, linksTo: string): RecordType => ({
  key,
  name: key,
  plural: `${key}s`,
  title: ['name'],
  forms: [],
  fields: [
    { key: 'name', name: 'Name', type: 'text' },
    { key: 'of', name: 'Belongs to', type: 'lookup', recordType: linksTo },
  ],
});
const contact = type('contact', 'customer');
const visit = type('visit', 'depot');
const titles = new Map([
  ['contact', new Map([['customer', new Map([['north farm', '7']])]])],
  ['visit', new Map([['depot', new Map([['north farm', '3']])]])],
]);
const rows = new File(['Name,Belongs to\nAda,North Farm\n'], 'rows.csv');

describe('a file of sample records', () => {
  const wayOf = (first: RecordType) => {
    const state = { type: first, before: () => Promise.resolve() };
    const file = new SampleFile({
      type: () => state.type,
      remembered: () => ({}),
      titlesFor: async ({ key }) => {
        await state.before();
        return titles.get(key)!;
      },
    });
    const links = () => file.records(state.type).records.map((r) => r.data['of']);
    return { state, file, links };
  };

  it('links to what has the title that its rows say', async () => {
    const { file, links } = wayOf(contact);
    expect(await file.read(rows)).toBe(true);
    expect(links()).toEqual(['7']);
  });

  it('links to records of the other type once its rows are of that', async () => {
    const { state, file, links } = wayOf(contact);
    await file.read(rows);
    state.type = visit;
    await file.retype();
    expect(links()).toEqual(['3']);
  });

  it('does so as well where the type changes while it is read', async () => {
    const { state, file, links } = wayOf(contact);
    state.before = () => {
      state.before = () => Promise.resolve();
      state.type = visit;
      return Promise.resolve();
    };
    await file.read(rows);
    expect(links()).toEqual(['3']);
  });
});

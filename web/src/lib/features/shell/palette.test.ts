import { describe, expect, it } from 'vitest';
import type { PaletteEntry } from './acts.svelte.ts';
import { byGroup, findEntries } from './palette.ts';

const entry = (group: string, name: string): PaletteEntry => ({ group, name });
const entries = [
  entry('Fields', 'Size class'),
  entry('Rules', 'Size class from employee count'),
  entry('Areas', 'Dry run'),
  entry('Tests', 'Employee count 9: Size class Micro'),
  entry('Acts', 'Undo: rename Size class'),
  entry('Here', 'Step to the next sample'),
  entry('Options', 'Large'),
];
/** Letters in their order, anywhere. */
const fuzzy = (name: string, text: string) => {
  let at = -1;
  return [...text].every((letter) => (at = name.indexOf(letter, at + 1)) >= 0) ? 0.4 : 0;
};
const find = (text: string) => findEntries(entries, text, fuzzy).map((e) => e.name);

describe('what the palette finds', () => {
  it.each([
    [
      'nothing typed: what can be done here, then where to go, what is undone last',
      ' ',
      ['Step to the next sample', 'Dry run', 'Size class from employee count', 'Undo: rename Size class'],
    ],
    [
      'what begins with it before what holds it',
      'employee',
      ['Employee count 9: Size class Micro', 'Size class from employee count'],
    ],
    ['words in any order, the group among them', 'count rules', ['Size class from employee count']],
    ['letters in their order only where nothing holds it', 'dyrn', ['Dry run']],
    ['capitals as small letters', 'LARGE', ['Large']],
    ['nothing by that name', 'xyz', []],
  ])('%s', (_, text, names) => expect(find(text)).toEqual(names));

  it('is as much as can be read, its groups in the order of their best', () => {
    const many = Array.from({ length: 500 }, (_, i) => entry(i % 2 ? 'Fields' : 'Rules', `Rule ${i}`));
    expect(findEntries(many, 'rule', fuzzy)).toHaveLength(60);
    expect(byGroup(findEntries(entries, 'size', fuzzy)).map(([name, list]) => [name, list.length])).toEqual([
      ['Fields', 1],
      ['Rules', 1],
      ['Tests', 1],
      ['Acts', 1],
    ]);
  });
});

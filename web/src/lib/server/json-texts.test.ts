import fc from 'fast-check';
import { expect, it } from 'vitest';
import { inBytes, jsonStream, jsonTexts } from './json-texts.ts';

const whole = (v: unknown, depth: number): unknown => JSON.parse([...jsonTexts(v, depth)].join(''));

it('pieces of JSON are the JSON, however deep it is taken apart', () => {
  fc.assert(
    fc.property(fc.jsonValue({ maxDepth: 5 }), fc.nat(6), (v, depth) => {
      expect(whole(v, depth)).toEqual(JSON.parse(JSON.stringify(v)));
    }),
  );
});

it.each<[what: string, v: unknown]>([
  ['members that are not there', { a: undefined, b: [1, undefined], c: null }],
  ['a moment', { at: new Date(0) }],
  [
    'a long list, and long ones in it',
    Array.from({ length: 2001 }, (_, i) => ({ i, rows: i === 7 ? Array(1500).fill(i) : [] })),
  ],
  ['characters of two units', { text: '𝄞"\\\u2028' }],
])('%s', (_, v) => {
  for (const depth of [0, 1, 2, 5]) expect(whole(v, depth)).toEqual(JSON.parse(JSON.stringify(v)));
});

it('an answer comes in pieces, and is what was asked for', async () => {
  const v = { rows: Array.from({ length: 20_000 }, (_, i) => `row é${i} of a table with a rather long text`) };
  expect([...inBytes(jsonTexts(v, 2))].length).toBeGreaterThan(4);
  const answer = jsonStream(v, 2);
  expect(answer.headers.get('content-type')).toBe('application/json');
  expect(await answer.json()).toEqual(v);
});

import fc from 'fast-check';
import { expect, it } from 'vitest';
import { distinct } from './distinct.ts';

it('what stands once keeps its key; no two are the same', () => {
  expect(distinct(['a', 'b', 'c'])).toEqual(['a', 'b', 'c']);
  fc.assert(
    fc.property(fc.array(fc.constantFrom('a', 'b', 'a (1)', 'a (2)', 'b (1)', '')), (keys) => {
      const found = distinct(keys);
      expect(new Set(found).size).toBe(keys.length);
      keys.forEach((key, i) => keys.indexOf(key) === i && !/\(/.test(key) && expect(found[i]).toBe(key));
    }),
  );
});

/** The order in which a reader sees the characters is worked out by bidi-js, which implements Unicode Standard Annex #9. */
import bidiFactory from 'bidi-js';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { becomes, isolated } from './isolated.ts';

const bidi = bidiFactory();

/** Indexes of the characters of a line that begins at the left, as they stand from left to right. */
const seenOrder = (text: string): number[] => bidi.getReorderedIndices(text, bidi.getEmbeddingLevels(text, 'ltr'));

/** All characters of the former stand left of the arrow, all of the later right of it. */
function standsInOrder(text: string, from: string, to: string): boolean {
  const seen = seenOrder(text);
  const arrow = seen.indexOf(text.lastIndexOf(' → ') + 1);
  const first = text.indexOf(from);
  const last = text.lastIndexOf(to);
  return seen.every((of, at) => {
    if (of >= first && of < first + from.length) return at < arrow;
    return of < last || of >= last + to.length || at > arrow;
  });
}

const hebrew = fc.string({ unit: fc.constantFrom('א', 'ב', 'ג', 'ד', ' ', '-', '7', '(', ')', '.'), minLength: 1 });
const arabic = fc.string({ unit: fc.constantFrom('م', 'ز', 'ر', ' ', '٣', '%', ','), minLength: 1 });
const latin = fc.string({ unit: fc.constantFrom('a', 'Z', ' ', '1', '.', '/'), minLength: 1 });
const anyText = fc.oneof(
  hebrew,
  arabic,
  latin,
  fc.tuple(hebrew, latin).map(([a, b]) => a + b),
);

describe('what something was stands before what it became', () => {
  it('also where both are read from right to left, which two bare ones do not', () => {
    expect(standsInOrder('אבג → דהו', 'אבג', 'דהו')).toBe(false);
    expect(standsInOrder(becomes('אבג', 'דהו'), 'אבג', 'דהו')).toBe(true);
  });

  it('whatever is in them', () =>
    fc.assert(
      fc.property(anyText, anyText, (from, to) => {
        expect(standsInOrder(becomes(from, to), from, to)).toBe(true);
      }),
    ));
});

describe('an isolate is put', () => {
  it('round every character of class R or AL, and round none of class L', () => {
    const put = { needed: [] as string[], needless: [] as string[] };
    for (let code = 0x20; code < 0x1_f000; code++) {
      if (code >= 0xd800 && code < 0xe000) continue;
      const character = String.fromCodePoint(code);
      const type = bidi.getBidiCharTypeName(character);
      const isPut = isolated(character) !== character;
      if (!isPut && (type === 'R' || type === 'AL')) put.needed.push(code.toString(16));
      if (isPut && type === 'L' && /\p{Assigned}/u.test(character)) put.needless.push(code.toString(16));
    }
    expect(put).toEqual({ needed: [], needless: [] });
  });

  it.each([
    ['', ''],
    ['Orchard 7', 'Orchard 7'],
    ['אבג', '\u2068אבג\u2069'],
    ['firm אבג', '\u2068firm אבג\u2069'],
  ])('as %j is written %j, and once', (text, written) => {
    expect(isolated(text)).toBe(written);
    expect(isolated(written)).toBe(written);
  });
});

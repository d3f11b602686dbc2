import fc from 'fast-check';
import { expect, it } from 'vitest';
import { clipped, drawn, type PlacedText } from './drawn-texts.ts';

it.each<[string, number, string]>([
  ['Medium', 60, 'Medium'],
  ['Medium', 40, 'Med…'],
  ['Very large', 60, 'Very…'],
  ['Medium', 20, ''],
  ['', 0, ''],
  ['🌱🌱🌱🌱🌱', 30, '🌱🌱…'],
])('%s on %d pixels', (text, width, expected) => expect(clipped(text, width, 10)).toBe(expected));

const at = (text: string, x: number, anchor: PlacedText['anchor'] = 'middle'): PlacedText => ({ text, x, anchor });

it.each<[string, PlacedText[], string[]]>([
  ['apart', [at('10', 10), at('50', 40)], ['10', '50']],
  ['touching: the first', [at('250', 80), at('1,334', 100, 'end')], ['250']],
  ['the first of the list, not of the line', [at('50', 20), at('10', 10, 'start')], ['50']],
])('%s', (_, texts, expected) => expect(drawn(texts, 10).map((t) => t.text)).toEqual(expected));

it('no two that are drawn touch, and the first is drawn', () => {
  const text = fc.record({
    text: fc.string({ minLength: 1, maxLength: 8 }),
    x: fc.integer({ min: 0, max: 300 }),
    anchor: fc.constantFrom('start' as const, 'middle' as const, 'end' as const),
  });
  fc.assert(
    fc.property(fc.array(text, { minLength: 1 }), (texts) => {
      const shown = drawn(texts, 7);
      const spans = shown
        .map((t): [number, number] => {
          const width = [...t.text].length * 7;
          const from = t.x - { start: 0, middle: width / 2, end: width }[t.anchor];
          return [from, from + width];
        })
        .sort(([a], [b]) => a - b);
      expect(shown[0]).toBe(texts[0]);
      spans.slice(1).forEach(([from], i) => expect(from).toBeGreaterThanOrEqual(spans[i]![1]));
    }),
  );
});

import { meet, readCategorize, type Band, type Categorize } from '@rigid-rule/core/compile';
import { applyPatch } from '@rigid-rule/core/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { flipStop, moveStop, removeBand, splitBand } from '../categorize/categorize-edits.ts';
import { dragStep, histogram, layoutRuler } from './ruler-layout.ts';

const bands: readonly Band[] = [
  { from: 0, to: 10, result: 'a' },
  { from: 10, to: 50, result: 'b' },
  { from: 50, result: 'c' },
];
const extent = { min: 0, max: 1000 };
const layout = layoutRuler(bands, extent, 300);

describe('the ruler', () => {
  it('gives every band the same room and stands its stops between them', () => {
    expect(layout.pieces.map((p) => [p.x0, p.x1])).toEqual([
      [0, 100],
      [100, 200],
      [200, 300],
    ]);
    expect(layout.stops.map((s) => [s.value, s.x, s.upper])).toEqual([
      [10, 100, true],
      [50, 200, true],
    ]);
  });

  it('a place on it and the value there are each other’s inverse', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 1000, noNaN: true }),
        (v) => void expect(layout.value(layout.x(v))).toBeCloseTo(v, 6),
      ),
    );
  });

  it('draws a gap as a piece of its own, with a stop at either end', () => {
    const torn = layoutRuler([{ ...bands[0]!, to: 8 }, ...bands.slice(1)], extent, 300);
    expect(torn.pieces.map((p) => p.kind)).toEqual(['band', 'gap', 'band', 'band']);
    expect(torn.stops.map((s) => [s.value, s.ends, s.begins])).toEqual([
      [8, 0, undefined],
      [10, undefined, 1],
      [50, 1, 2],
    ]);
  });

  it.each([
    [0.1, 1, 1],
    [3, 1, 5],
    [16, 1, 20],
    [0.03, 0.1, 0.1],
    [60, 1, 100],
  ])('a pixel of %s units, at finest %s, drags by %s', (units, finest, step) => {
    expect(dragStep(units, finest)).toBe(step);
  });

  it('shows each value of the sample once, zeros as a spike', () => {
    const bars = histogram(layout, [0, 0, 0, 1, 2, 45, 999]);
    expect(bars.filter((b) => b.spike)).toMatchObject([{ height: 1 }]);
    expect(bars).toHaveLength(5);
  });
});

describe('edits of bands', () => {
  const rule = { outcome: { source: 'Count', target: 't', bands, blank: { do: 'clear' }, outside: { do: 'clear' } } };
  const after = (operations: Parameters<typeof applyPatch>[1]): Categorize =>
    readCategorize(applyPatch(rule, operations).value.outcome);

  it('keep neighbours touching, and undo to where they began', () => {
    const edits = [
      moveStop(layout.stops[0]!, 20),
      flipStop(layout.stops[0]!),
      splitBand(after([]), 1, 30),
      splitBand(after([]), 2, 90),
      removeBand(after([]), 0),
      removeBand(after([]), 1),
      removeBand(after([]), 2),
    ];
    for (const operations of edits) {
      const { value, inverse } = applyPatch(rule, operations);
      const list = readCategorize(value.outcome).bands;
      for (let i = 0; i + 1 < list.length; i++) expect(meet(list[i]!, list[i + 1]!)).toBe('touch');
      expect(list[0]!.from).toBe(0);
      expect(list.at(-1)!.to).toBeUndefined();
      expect(applyPatch(value, inverse).value).toEqual(rule);
    }
  });
});

import type { Band } from '@rigid-rule/core/compile';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { layoutRuler, type RulerStop } from '../../parts/ruler-layout.ts';
import { RulerHand } from './ruler-hand.svelte.ts';

const from = (a: number, b: number): readonly Band[] => [
  { from: 0, to: a, result: 'a' },
  { from: a, to: b, result: 'b' },
  { from: b, result: 'c' },
];

/** A ruler 300 pixels wide over 0 to 1,000, whose first two boundaries are moved as the hand says. */
function ruler(finest = 1) {
  const state = { bands: from(10, 50), flipped: [] as number[], groups: [] as string[] };
  const live = () => layoutRuler(state.bands, { min: 0, max: 1000 }, 300);
  const hand = new RulerHand({
    bands: () => state.bands,
    live,
    finest: () => finest,
    move: (stop: RulerStop, value, group) => {
      const [a, b] = [state.bands[0]!.to!, state.bands[1]!.to!];
      state.bands = stop.ends === 0 ? from(value, b) : from(a, value);
      state.groups.push(group);
    },
    flip: (stop) => void state.flipped.push(stop.value),
  });
  const stop = (i: number) => live().stops[i]!;
  return { hand, state, stop, values: () => live().stops.map((s) => s.value) };
}

describe('the stops of a ruler', () => {
  it.each<[string, boolean, number]>([
    ['ArrowRight', false, 11],
    ['ArrowUp', false, 11],
    ['ArrowLeft', false, 9],
    ['ArrowLeft', true, 1],
    ['PageUp', false, 20],
    ['PageUp', true, 49],
    ['PageDown', false, 1],
  ])('by %s, with shift %s, the first goes from 10 to %d', (key, shiftKey, to) => {
    const { hand, stop, values } = ruler();
    expect(hand.press({ key, repeat: false, shiftKey }, stop(0))).toBe(true);
    expect(values()).toEqual([to, 50]);
  });

  it('are handed to the other band by space and enter, and leave all other keys to others', () => {
    const { hand, state, stop } = ruler();
    expect(
      [' ', 'Enter', 'Tab', 'a'].map((key) => hand.press({ key, repeat: false, shiftKey: false }, stop(1))),
    ).toEqual([true, true, false, false]);
    expect(state.flipped).toEqual([50, 50]);
  });

  it('move in one act while a key is held down, and in another when it is pressed again', () => {
    const { hand, state, stop } = ruler();
    for (const repeat of [false, true, true, false])
      hand.press({ key: 'ArrowRight', repeat, shiftKey: false }, stop(0));
    const [a, b, c, d] = state.groups;
    expect([a === b, b === c, c === d]).toEqual([true, true, false]);
  });

  it('stay under the pointer: while one is dragged the scale stands still', () => {
    const { hand, values } = ruler();
    hand.grab(0);
    hand.drag(150, true);
    expect(values()).toEqual([30, 50]);
    hand.drag(125, true);
    expect(values()).toEqual([20, 50]);
    hand.letGo();
    hand.drag(10, true);
    expect(values()).toEqual([20, 50]);
  });

  it('never meet, wherever the pointer goes, and hold no more decimals than the field', () => {
    const places = fc.array(fc.tuple(fc.nat(1), fc.integer({ min: -50, max: 350 }), fc.boolean()), { maxLength: 12 });
    fc.assert(
      fc.property(places, fc.constantFrom(1, 0.1, 0.01), (moves, finest) => {
        const { hand, values } = ruler(finest);
        for (const [index, x, isFine] of moves) {
          hand.grab(index);
          hand.drag(x, isFine);
          hand.letGo();
          const [a, b] = values();
          expect([a! > 0, a! < b!]).toEqual([true, true]);
          for (const v of [a!, b!]) expect(Math.abs(v / finest - Math.round(v / finest))).toBeLessThan(1e-6);
        }
      }),
    );
  });
});

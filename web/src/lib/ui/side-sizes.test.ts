/** The sides of a screen, made wider, narrower and folded away. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  mostOf,
  readSides,
  takenBy,
  usualSides,
  withFold,
  withKey,
  withSize,
  type Sides,
  type SidesLimits,
} from './side-sizes.ts';

const limits: SidesLimits = { left: { usual: 20, least: 14 }, right: { usual: 30, least: 22 }, middle: 36 };
const usual = usualSides(limits);
const sides = (left: number, right: number, folded: readonly string[] = []): Sides => ({
  left: { size: left, folded: folded.includes('left') },
  right: { size: right, folded: folded.includes('right') },
});

it.each<[string, number, Sides]>([
  ['as far as it is drawn', 25, sides(25, 30)],
  ['to no less than its least', 10, sides(14, 30)],
  ['away, when it is drawn to less than half of that', 6, sides(20, 30, ['left'])],
  ['beyond what is free, and the other one makes room', 40, sides(40, 24)],
  ['to no more than the middle and the other one need', 60, sides(42, 22)],
])('the left side goes %s', (_, wanted, expected) => expect(withSize(usual, 'left', wanted, limits)).toEqual(expected));

it('a side that is folded away leaves its place to the other, which makes room when it comes back', () => {
  const away = withFold(usual, 'left', limits);
  const wide = withSize(away, 'right', 64, limits);
  expect([takenBy(away.left), takenBy(wide.right)]).toEqual([0, 64]);
  expect(withFold(wide, 'left', limits)).toEqual(sides(20, 44));
});

it.each<[string, 'left' | 'right', Sides | undefined]>([
  ['ArrowRight', 'left', sides(22, 30)],
  ['ArrowLeft', 'left', sides(18, 30)],
  ['ArrowLeft', 'right', sides(20, 32)],
  ['ArrowRight', 'right', sides(20, 28)],
  ['Home', 'right', sides(20, 22)],
  ['End', 'right', sides(14, 50)],
  ['Enter', 'right', sides(20, 30, ['right'])],
  ['a', 'right', undefined],
])('%s on the edge of the %s side (WAI-ARIA, window splitter)', (key, name, expected) =>
  expect(withKey(usual, name, key, limits)).toEqual(expected),
);

it('keys fold a side away at its least, and bring it back', () => {
  const least = withKey(usual, 'left', 'Home', limits)!;
  const away = withKey(least, 'left', 'ArrowLeft', limits)!;
  expect(away.left).toEqual({ size: 14, folded: true });
  expect(withKey(away, 'left', 'ArrowLeft', limits)).toEqual(away);
  expect(withKey(away, 'left', 'ArrowRight', limits)!.left).toEqual({ size: 14, folded: false });
});

describe('what was kept', () => {
  it.each<[string, string | null, Sides]>([
    ['nothing', null, usual],
    ['no JSON', '{', usual],
    ['something else', '[1]', usual],
    ['null', 'null', usual],
    ['sizes that no screen has', '{"left":{"size":900},"right":{"size":-4}}', sides(42, 22)],
    ['one side', '{"right":{"size":40,"folded":true}}', sides(20, 40, ['right'])],
  ])('%s', (_, text, expected) => expect(readSides(text, limits)).toEqual(expected));

  it('comes back, whatever was done; the middle keeps its own', () => {
    const name = fc.constantFrom('left' as const, 'right' as const);
    const act = fc.oneof(
      fc.tuple(name, fc.double({ min: -20, max: 120, noNaN: true })).map(
        ([n, to]) =>
          (s: Sides) =>
            withSize(s, n, to, limits),
      ),
      name.map((n) => (s: Sides) => withFold(s, n, limits)),
      fc.tuple(name, fc.constantFrom('ArrowLeft', 'ArrowRight', 'Home', 'End', 'Enter')).map(
        ([n, key]) =>
          (s: Sides) =>
            withKey(s, n, key, limits) ?? s,
      ),
    );
    fc.assert(
      fc.property(fc.array(act, { maxLength: 20 }), (acts) => {
        const after = acts.reduce((s, a) => a(s), usual);
        expect(100 - takenBy(after.left) - takenBy(after.right)).toBeGreaterThanOrEqual(limits.middle);
        for (const n of ['left', 'right'] as const)
          expect(takenBy(after[n])).toBeLessThanOrEqual(mostOf(after, n, limits));
        expect(readSides(JSON.stringify(after), limits)).toEqual(after);
      }),
    );
  });
});

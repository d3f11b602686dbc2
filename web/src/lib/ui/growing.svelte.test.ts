import { flushSync } from 'svelte';
import { expect, it, vi } from 'vitest';
import { Growing } from './growing.svelte.ts';

it.each([
  ['when the browser is idle', 'IdleCallback'],
  ['frame by frame where no browser tells so', 'AnimationFrame'],
])('a list is drawn from its beginning, %s, to its end, and follows what becomes of it', (_, way) => {
  const frames: ((now: number) => void)[] = [];
  vi.stubGlobal(`request${way}`, (draw: (now: number) => void) => frames.push(draw));
  vi.stubGlobal(`cancel${way}`, () => undefined);
  let list = $state.raw(Array.from({ length: 130 }, (_, i) => i));
  let drawn!: Growing<number>;
  const end = $effect.root(() => {
    drawn = new Growing(() => list);
  });
  const lengths = [];
  for (let i = 0; i < 4; i++) {
    flushSync();
    lengths.push(drawn.items.length);
    frames.pop()?.(0);
  }
  expect(lengths).toEqual([60, 120, 130, 130]);
  expect(drawn.items).toBe(list);
  list = [7];
  expect(drawn.items).toEqual([7]);
  end();
  vi.unstubAllGlobals();
});

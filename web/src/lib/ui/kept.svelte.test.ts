import { flushSync } from 'svelte';
import { expect, it, vi } from 'vitest';
import { Kept } from './kept.svelte.ts';

it('a state is made once, and what it derives goes on when the part that made it has gone', () => {
  const warned = vi.spyOn(console, 'warn').mockImplementation(() => undefined);
  let number = $state(1);
  class Doubled {
    readonly value = $derived(number * 2);
  }
  const kept = new Kept<Doubled>();
  const make = vi.fn(() => new Doubled());
  const seen: number[] = [];
  /** A part of a page that shows it, to be taken away. */
  const part = () =>
    $effect.root(() => {
      const shown = $derived(kept.of('a', make));
      $effect(() => void seen.push(shown.value));
    });
  const first = part();
  flushSync();
  first();
  number = 2;
  const second = part();
  flushSync();
  number = 3;
  flushSync();
  expect(seen).toEqual([2, 4, 6]);
  expect(make).toHaveBeenCalledTimes(1);
  expect(warned).not.toHaveBeenCalled();
  second();
  kept.end();
  kept.of('a', make);
  expect(make).toHaveBeenCalledTimes(2);
  warned.mockRestore();
});

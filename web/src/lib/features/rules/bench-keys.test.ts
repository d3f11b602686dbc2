import { expect, it } from 'vitest';
import type { KeyAct } from '$lib/ui/keys.ts';
import { benchActs, PressedAhead } from './bench-keys.ts';

it('keys pressed before the bench is there are done by it in their order, once, and never offered twice', () => {
  let offered: readonly KeyAct[] = [];
  const ahead = new PressedAhead((acts) => {
    offered = acts;
    return () => (offered = []);
  });
  const done: string[] = [];
  const own = benchActs((key) => () => void done.push(key));
  expect(offered.map((a) => [a.keys, a.does])).toEqual(own.map((a) => [a.keys, a.does]));
  for (const key of ['J', 'J', 'T', 'K']) offered.find((a) => a.keys === key)!.run();
  for (const key of ahead.take()) own.find((a) => a.keys === key)!.run();
  expect(done).toEqual(['J', 'J', 'T', 'K']);
  expect([offered, ahead.take()]).toEqual([[], []]);
});

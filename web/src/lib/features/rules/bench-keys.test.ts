import { expect, it } from 'vitest';
import { benchActs, PressedAhead } from './bench-keys.ts';

it('keys pressed before the bench is there are done by it in their order, once', () => {
  const ahead = new PressedAhead();
  const done: string[] = [];
  const byKey = new Map(ahead.acts.map((a) => [a.keys, a]));
  for (const key of ['J', 'J', 'T', 'K']) byKey.get(key)!.run();
  const acts = new Map(benchActs((key) => () => void done.push(key)).map((a) => [a.keys, a]));
  for (const key of ahead.take()) acts.get(key)!.run();
  expect(done).toEqual(['J', 'J', 'T', 'K']);
  expect(ahead.take()).toEqual([]);
  expect([...acts.values()].map((a) => a.does)).toEqual(ahead.acts.map((a) => a.does));
});

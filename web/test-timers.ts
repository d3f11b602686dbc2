/**
 * Files of tests share a worker: a timer that one leaves behind runs in the next, on what that one has put in the place of
 * clock and network. A file that leaves one fails.
 */
import { afterAll, beforeAll, expect } from 'vitest';

type Timer = ReturnType<typeof setTimeout>;

const { setTimeout: set, clearTimeout: clear } = globalThis;
/** Those that run, with where they were set. */
const left = new Map<Timer, string>();

beforeAll(() => {
  left.clear();
  const setTracked = (work: (...given: unknown[]) => void, delay?: number, ...given: unknown[]): Timer => {
    const timer = set(() => {
      left.delete(timer);
      work(...given);
    }, delay);
    left.set(timer, (new Error().stack ?? '').split('\n')[2]?.trim() ?? '');
    return timer;
  };
  globalThis.setTimeout = Object.assign(setTracked, set) as typeof setTimeout;
  globalThis.clearTimeout = ((timer?: Timer) => {
    if (timer !== undefined) left.delete(timer);
    clear(timer);
  }) as typeof clearTimeout;
});

afterAll(() => {
  [globalThis.setTimeout, globalThis.clearTimeout] = [set, clear];
  expect([...left.values()], 'timers that are left behind').toEqual([]);
});

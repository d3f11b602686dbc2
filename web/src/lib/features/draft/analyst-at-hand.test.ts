import type { Rulebook } from '@rigid-rule/core/document';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import type { FindingsAnswer } from '$lib/workers/findings.ts';
import { AnalystAtHand } from './analyst-at-hand.ts';

beforeEach(() => vi.useFakeTimers());
afterEach(() => vi.useRealTimers());

const bookOf = (name: string): Rulebook => ({ name }) as Rulebook;
const answerOf = (id: number): FindingsAnswer => ({ id }) as FindingsAnswer;

/** An analyst at hand that cannot be had the first `missing` times. */
function atHand(missing: number) {
  const seen = { asked: [] as string[], answers: 0, waits: false, closed: 0, gaveUp: () => undefined as void };
  let loads = 0;
  const analyst = new AnalystAtHand(
    () => seen.answers++,
    (waits) => (seen.waits = waits),
    async (answer, gaveUp) => {
      if (loads++ < missing) throw new TypeError('Failed to fetch dynamically imported module');
      seen.gaveUp = gaveUp;
      return {
        analyse: ({ name }) => {
          seen.asked.push(name);
          answer(answerOf(seen.asked.length));
        },
        close: () => seen.closed++,
      };
    },
  );
  return { analyst, seen, loads: () => loads };
}

it('where it cannot be had it says so, and is asked for again, with what stands by then', async () => {
  const { analyst, seen, loads } = atHand(2);
  analyst.analyse(bookOf('first'));
  await vi.advanceTimersByTimeAsync(10);
  expect([seen.waits, seen.asked, loads()]).toEqual([true, [], 1]);
  await vi.advanceTimersByTimeAsync(3_000);
  expect([seen.waits, loads()]).toEqual([true, 2]);
  analyst.analyse(bookOf('second'));
  await vi.advanceTimersByTimeAsync(10);
  expect([seen.waits, seen.asked, seen.answers]).toEqual([false, ['second'], 1]);
  await vi.advanceTimersByTimeAsync(600_000);
  expect([seen.asked, loads()]).toEqual([['second'], 3]);
});

it('one that gives up is followed by another, later each time it is in vain', async () => {
  const { analyst, seen, loads } = atHand(0);
  analyst.analyse(bookOf('a'));
  await vi.advanceTimersByTimeAsync(0);
  seen.gaveUp();
  expect(seen.waits).toBe(true);
  await vi.advanceTimersByTimeAsync(3_000);
  expect([seen.waits, seen.asked, loads()]).toEqual([false, ['a', 'a'], 2]);
});

it('once it is closed nothing is asked any more, until somebody asks', async () => {
  const { analyst, seen, loads } = atHand(1);
  analyst.analyse(bookOf('a'));
  await vi.advanceTimersByTimeAsync(0);
  analyst.close();
  await vi.advanceTimersByTimeAsync(600_000);
  expect([seen.asked, loads()]).toEqual([[], 1]);
  analyst.analyse(bookOf('b'));
  await vi.advanceTimersByTimeAsync(0);
  analyst.close();
  await vi.advanceTimersByTimeAsync(0);
  expect([seen.asked, seen.closed]).toEqual([['b'], 1]);
});

import { describe, expect, it, vi } from 'vitest';
import { together } from './together.ts';

const deferred = () => {
  let done!: () => void;
  const promise = new Promise<void>((resolve) => (done = resolve));
  return { promise, done };
};

describe('questions asked together', () => {
  it('at the same time are one query, and each gets its own answer, asked twice or not', async () => {
    const batches: (readonly number[])[] = [];
    const double = together(async (asked: readonly number[]) => {
      batches.push(asked);
      return asked.map((n) => n * 2);
    });
    expect(await Promise.all([1, 2, 2, 3].map(double))).toEqual([2, 4, 4, 6]);
    expect(batches).toEqual([[1, 2, 2, 3]]);
  });

  it('of which one cannot be answered fail for that one only', async () => {
    const answer = together(async (asked: readonly string[]) => {
      if (asked.includes('bad')) throw new Error('cannot be stored');
      return asked.map((s) => s.toUpperCase());
    });
    const all = await Promise.allSettled(['a', 'bad', 'c'].map(answer));
    expect(all.map((r) => (r.status === 'fulfilled' ? r.value : (r.reason as Error).message))).toEqual([
      'A',
      'cannot be stored',
      'C',
    ]);
  });

  it.each([
    ['one of them is held up by others', '55P03', ['A', 'held up', 'C'], 4],
    ['the database is away', '57P01', ['held up', 'held up', 'held up'], 1],
  ])('where %s', async (_, code, expected, calls) => {
    let asked = 0;
    const answer = together(async (questions: readonly string[]) => {
      asked++;
      if (questions.includes('b')) throw Object.assign(new Error('held up'), { code });
      return questions.map((s) => s.toUpperCase());
    });
    const all = await Promise.allSettled(['a', 'b', 'c'].map(answer));
    expect(all.map((r) => (r.status === 'fulfilled' ? r.value : (r.reason as Error).message))).toEqual(expected);
    expect(asked).toBe(calls);
  });

  it('that nobody waits for gather for a while', async () => {
    vi.useFakeTimers();
    const batches: (readonly number[])[] = [];
    const answer = together(
      async (asked: readonly number[]) => {
        batches.push(asked);
        return asked;
      },
      { gather: 20 },
    );
    const first = answer(1);
    await vi.advanceTimersByTimeAsync(19);
    const second = answer(2);
    expect(batches).toEqual([]);
    await vi.advanceTimersByTimeAsync(1);
    expect(await Promise.all([first, second])).toEqual([1, 2]);
    expect(batches).toEqual([[1, 2]]);
    vi.useRealTimers();
  });

  it('while two batches are under way gather for the next', async () => {
    const gates: ReturnType<typeof deferred>[] = [];
    const sizes: number[] = [];
    const answer = together(async (asked: readonly number[]) => {
      sizes.push(asked.length);
      const gate = deferred();
      gates.push(gate);
      await gate.promise;
      return asked;
    });
    const turn = (): Promise<void> => new Promise((resolve) => setImmediate(resolve));
    const all: Promise<number>[] = [];
    for (let n = 0; n < 6; n++) {
      all.push(answer(n));
      await turn();
      await turn();
    }
    expect(sizes).toEqual([1, 1]);
    gates[0]!.done();
    await all[0];
    await turn();
    expect(sizes).toEqual([1, 1, 4]);
    for (const gate of gates) gate.done();
    expect(await Promise.all(all)).toEqual([0, 1, 2, 3, 4, 5]);
  });
});

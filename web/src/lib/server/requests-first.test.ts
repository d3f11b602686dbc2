import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { asRequest, quietMoment } from './requests-first.ts';

beforeEach(() => void vi.useFakeTimers({ toFake: ['setTimeout', 'performance'] }));
afterEach(() => void vi.useRealTimers());

const lasting = (milliseconds: number) => asRequest(() => new Promise((done) => setTimeout(done, milliseconds)));

/** Milliseconds until work that may be put off for a second begins. */
async function putOff(): Promise<number> {
  const [from, began] = [performance.now(), vi.fn()];
  void quietMoment(1000).then(() => began(performance.now() - from));
  await vi.advanceTimersByTimeAsync(2000);
  return began.mock.calls[0]![0] as number;
}

it('where nobody asks for anything, work begins at once', async () => {
  expect(await putOff()).toBe(0);
});

it('work begins a moment after the last request was answered, also one that failed', async () => {
  void lasting(300);
  void asRequest(() => Promise.reject(new Error('It fails.'))).catch(() => undefined);
  const took = await putOff();
  expect(took).toBeGreaterThanOrEqual(310);
  expect(took).toBeLessThan(330);
});

it('who asks again and again is served first, but not for ever', async () => {
  const askAgain = async () => {
    for (let i = 0; i < 400; i++) {
      await lasting(3);
      await new Promise((done) => setTimeout(done, 2));
    }
  };
  void askAgain();
  expect(await putOff()).toBe(1000);
});

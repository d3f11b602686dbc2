import { expect, it } from 'vitest';
import { untilItEnds } from './worker-end.ts';

/** A worker that ends when it is told to. */
class Ending extends EventTarget {
  end(): void {
    this.dispatchEvent(new Event('error'));
  }
}

it('what is asked of a worker is answered, or refused once it has ended; also what is asked after that', async () => {
  const worker = new Ending();
  const alive = untilItEnds(worker as unknown as Worker);
  expect(await alive(Promise.resolve(1))).toBe(1);
  const asked = alive(new Promise(() => undefined)).catch((e: unknown) => e);
  worker.end();
  const later = alive(new Promise(() => undefined)).catch((e: unknown) => e);
  for (const thrown of await Promise.all([asked, later])) expect((thrown as Error).message).toBe('The worker ended.');
});

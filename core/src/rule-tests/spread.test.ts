import fc from 'fast-check';
import { expect, it } from 'vitest';
import { runsOf } from '../testing/runs.ts';
import { spreadOver, sumOfSpreads } from './spread.ts';

it('numbers are spread over steps that any heaps have in common: put together they are as if counted at once', () => {
  // What fields hold: up to nine digits, some behind the point.
  const value = fc
    .tuple(fc.integer({ min: -1_000_000, max: 1_000_000 }), fc.constantFrom(1, 10, 100, 1000))
    .map(([n, by]) => n / by);
  fc.assert(
    fc.property(fc.array(fc.array(value, { minLength: 1 }), { minLength: 1, maxLength: 5 }), (heaps) => {
      const whole = spreadOver(heaps.flat(), [])!;
      const sum = sumOfSpreads(heaps.map((h) => spreadOver(h, [])!));
      expect(whole.before.length).toBeLessThanOrEqual(24);
      expect(sum).toEqual(whole);
    }),
    { numRuns: runsOf(300) },
  );
});

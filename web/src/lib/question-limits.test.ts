import fc from 'fast-check';
import { expect, it } from 'vitest';
import { askInChunks } from './question-limits.ts';

it('all questions are answered in their order, never too many at once', async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(fc.nat(99)), fc.integer({ min: 1, max: 5 }), async (questions, most) => {
      const sizes: number[] = [];
      const answers = await askInChunks(questions, most, async (chunk) => {
        sizes.push(chunk.length);
        return chunk.map((q) => [q, q]);
      });
      expect(answers).toEqual(questions.map((q) => [q, q]));
      expect(Math.max(0, ...sizes)).toBeLessThanOrEqual(most);
    }),
  );
});

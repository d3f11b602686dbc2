import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { pairwise, type PartialRow } from './pairwise.ts';

const covers = (sizes: readonly number[], rows: readonly number[][], may: (row: PartialRow) => boolean): string[] => {
  const left: string[] = [];
  const has = (row: PartialRow): boolean => rows.some((r) => row.every((v, i) => v === undefined || r[i] === v));
  const completes = (row: PartialRow): boolean => {
    const at = row.indexOf(undefined);
    if (!may(row)) return false;
    return at < 0 || Array.from({ length: sizes[at]! }, (_, v) => v).some((v) => completes(row.with(at, v)));
  };
  for (let a = 0; a < sizes.length; a++)
    for (let b = a + 1; b < sizes.length; b++)
      for (let x = 0; x < sizes[a]!; x++)
        for (let y = 0; y < sizes[b]!; y++) {
          const pair = sizes.map((_, i) => (i === a ? x : i === b ? y : undefined));
          if (!has(pair) && completes(pair)) left.push(`${a}=${x}, ${b}=${y}`);
        }
  return left;
};

describe('pairwise rows', () => {
  // Two values: the smallest N with k <= C(N-1, ceil(N/2)), Kleitman and Spencer, Discrete Mathematics 6 (1973), 255-262.
  // Three and four values: orthogonal arrays L9 (3^4) and L16 (4^5); 3^13 in 15 and 4^1 3^9 2^25 in 21..: from the
  // published covering array tables (values from memory).
  it.each<[string, number[], number]>([
    ['3 of two values', [2, 2, 2], 4],
    ['4 of two values', [2, 2, 2, 2], 5],
    ['10 of two values', Array<number>(10).fill(2), 6],
    ['15 of two values', Array<number>(15).fill(2), 7],
    ['35 of two values', Array<number>(35).fill(2), 8],
    ['4 of three values', [3, 3, 3, 3], 9],
    ['13 of three values', Array<number>(13).fill(3), 15],
    ['5 of four values', [4, 4, 4, 4, 4], 16],
    ['two alone', [5, 3], 15],
  ])('%s: at most 1.6 times the known optimum', (_, sizes, optimum) => {
    const rows = pairwise(sizes);
    expect(covers(sizes, rows, () => true)).toEqual([]);
    expect(rows.length).toBeLessThanOrEqual(optimum * 1.6);
    expect(rows.length).toBeGreaterThanOrEqual(optimum);
  });

  it('hold every pair that the constraints allow, and no row that they forbid', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 1, max: 4 }), { minLength: 2, maxLength: 5 }),
        fc.array(fc.tuple(fc.nat(4), fc.nat(3), fc.nat(4), fc.nat(3)), { maxLength: 6 }),
        fc.nat(100),
        (sizes, forbidden, seed) => {
          const may = (row: PartialRow): boolean =>
            !forbidden.some(([a, x, b, y]) => a !== b && row[a] === x && row[b] === y);
          const rows = pairwise(sizes, { allows: may, seed });
          return rows.every(may) && covers(sizes, rows, may).length === 0;
        },
      ),
    );
  });
});

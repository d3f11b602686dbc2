/** Relations of ranges and points as what they mean on sets: here the quarters between -1 and 8. */
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { evaluateLine } from '../../command/evaluate-line.ts';
import { runsOf } from '../../testing/runs.ts';

const quarters = Array.from({ length: 37 }, (_, i) => i / 4 - 1);

const range = fc
  .tuple(fc.nat(6), fc.nat(6), fc.boolean(), fc.boolean())
  .filter(([low, high, openLow, openHigh]) => low < high || (low === high && !openLow && !openHigh))
  .map(([low, high, openLow, openHigh]) => {
    const has = (x: number): boolean => (openLow ? x > low : x >= low) && (openHigh ? x < high : x <= high);
    const text = `${openLow ? '(' : '['}${low}..${high}${openHigh ? ')' : ']'}`;
    return { low, high, openLow, openHigh, has, text, points: quarters.filter(has) };
  });

it('ranges and points lie to each other as their sets do', () => {
  fc.assert(
    fc.property(range, range, fc.integer({ min: -1, max: 7 }), (a, b, p) => {
      const within = a.points.every(b.has);
      const around = b.points.every(a.has);
      const begin = a.low === b.low && a.openLow === b.openLow;
      const end = a.high === b.high && a.openHigh === b.openHigh;
      const below = a.points.at(-1)! < b.points[0]!;
      const above = a.points[0]! > b.points.at(-1)!;
      const meets = a.high === b.low && !a.openHigh && !b.openLow;
      const metBy = b.high === a.low && !b.openHigh && !a.openLow;
      const shared = a.points.some(b.has);
      const expected: Readonly<Record<string, boolean>> = {
        [`includes(${a.text}, ${b.text})`]: around,
        [`during(${a.text}, ${b.text})`]: within,
        [`coincides(${a.text}, ${b.text})`]: begin && end,
        [`overlaps(${a.text}, ${b.text})`]: shared,
        [`before(${a.text}, ${b.text})`]: below,
        [`after(${a.text}, ${b.text})`]: above,
        [`meets(${a.text}, ${b.text})`]: meets,
        [`met by(${a.text}, ${b.text})`]: metBy,
        [`starts(${a.text}, ${b.text})`]: begin && within,
        [`started by(${a.text}, ${b.text})`]: begin && around,
        [`finishes(${a.text}, ${b.text})`]: end && within,
        [`finished by(${a.text}, ${b.text})`]: end && around,
        [`${p} in ${a.text}`]: a.has(p),
        [`includes(${a.text}, ${p})`]: a.has(p),
        [`before(${p}, ${a.text})`]: a.points.every((x) => p < x),
        [`before(${a.text}, ${p})`]: a.points.every((x) => x < p),
        [`after(${p}, ${a.text})`]: a.points.every((x) => p > x),
        [`after(${a.text}, ${p})`]: a.points.every((x) => x > p),
      };
      const found = Object.keys(expected).map((expression) => {
        const line = evaluateLine(JSON.stringify({ expression, context: {} }), {});
        return [expression, (JSON.parse(line) as { value?: unknown }).value];
      });
      expect(Object.fromEntries(found)).toEqual(expected);
    }),
    { numRuns: runsOf(200) },
  );
});

import { expect, it } from 'vitest';
import { apartBy, flowPicture, otherValues } from './flows.ts';

const field = {
  key: 'size_class',
  field: 'Size class',
  records: 49,
  moves: [
    { from: 'Large', to: 'Medium', records: 37 },
    { from: 'blank', to: 'Small', records: 12 },
  ],
  stays: [
    { value: 'Small', records: 612 },
    { value: 'Medium', records: 428 },
  ],
};

it('values stand in the order of the options, blank first; moves are to scale and what stays is cut', () => {
  const { before, after, flows, cut, height } = flowPicture(field, ['Small', 'Medium', 'Large']);
  expect(before.map((b) => [b.value, b.count])).toEqual([
    ['blank', 12],
    ['Small', 612],
    ['Medium', 428],
    ['Large', 37],
  ]);
  expect(after.map((b) => b.count)).toEqual([0, 624, 465, 0]);
  const [up, down] = [flows.find((f) => f.from === 'Large')!, flows.find((f) => f.from === 'blank')!];
  expect(up.h0 / down.h0).toBeCloseTo(37 / 12);
  expect(cut).toBe(true);
  for (const f of flows) expect(f.y1 + f.h1).toBeLessThanOrEqual(height + 0.001);
});

it('no two flows cover each other on a bar, and each stays within it', () => {
  const { before, flows } = flowPicture(field, ['Small', 'Medium', 'Large']);
  for (const bar of before) {
    const own = flows.filter((f) => f.from === bar.value).sort((a, b) => a.y0 - b.y0);
    own.forEach((f, i) => {
      expect(f.y0).toBeGreaterThanOrEqual(i === 0 ? bar.y : own[i - 1]!.y0 + own[i - 1]!.h0 - 0.001);
      expect(f.y0 + f.h0).toBeLessThanOrEqual(bar.y + bar.height + 0.001);
    });
  }
});

it('many values: those of few records stand together', () => {
  const moves = Array.from({ length: 30 }, (_, i) => ({ from: `a${i}`, to: `b${i}`, records: 30 - i }));
  const { before, flows } = flowPicture({ key: 'n', field: 'N', records: 465, moves }, []);
  expect(before.length).toBeLessThanOrEqual(9);
  expect(flows.some((f) => f.from === otherValues)).toBe(true);
  expect(flows.reduce((n, f) => n + f.records, 0)).toBe(465);
});

it.each([
  [[], []],
  [
    [10, 40],
    [10, 40],
  ],
  [
    [40, 10],
    [40, 10],
  ],
  [
    [10, 12, 13],
    [10, 24, 38],
  ],
  [
    [13, 12, 50, 12],
    [40, 12, 54, 26],
  ],
])('words wanted at %j stand at %j, 14 apart', (wanted, placed) => {
  expect(apartBy(14, wanted)).toEqual(placed);
});

import { draft } from '@rigid-rule/demo';
import { toParts } from '@rigid-rule/core/document';
import { expect, it } from 'vitest';
import { bytesInSteps } from './draft-json.ts';

it.each([0, 1, 1000, 1001, 25_000])('the draft in bytes is the draft, with a table of %i rows', (count) => {
  const rows = Array.from({ length: count }, (_, i) => ({ code: `é${i}`, rows: [`"]}}${i}`] }));
  const parts = [
    ...toParts(draft),
    { kind: 'table' as const, key: 'long', position: 9, body: { ...draft.tables![0]!, rows, name: 'After' } },
  ].map(({ body, ...part }) => ({ ...part, version: 3, body }));
  const work = bytesInSteps({ parts, stamp: '1 "2"' });
  let [step, steps] = [work.next(), 0];
  for (; !step.done; steps++) step = work.next();
  expect(JSON.parse(new TextDecoder().decode(step.value))).toEqual({ parts, stamp: '1 "2"' });
  expect(steps).toBeGreaterThanOrEqual(Math.floor(step.value.length / 400_000));
});

import type { TraceEntry } from '@rigid-rule/core/compile';
import { expect, it } from 'vitest';
import { tracePartsOf } from './trace-parts.ts';

const entry = (rule: string, verdict: string) => ({ rule, verdict }) as TraceEntry;
const without = (count: number) => Array.from({ length: count }, (_, i) => entry(`w${i}`, 'no effect'));

it.each([
  ['few rules without effect stand with the others, in order', 12, undefined, [14, 0, 1]],
  ['many are folded away', 13, undefined, [2, 13, 1]],
  ['but for the one on the sheet, which comes first and does not count', 13, 'w0', [15, 0, 1]],
  ['and one that did not act stands open on its own sheet', 13, 'asleep', [3, 13, 0]],
])('%s', (_, count, current, sizes) => {
  const trace = [entry('first', 'ran'), ...without(count), entry('asleep', 'asleep'), entry('last', 'stops')];
  const { open, withoutEffect, idle } = tracePartsOf(trace, current);
  expect([open, withoutEffect, idle].map((list) => list.length)).toEqual(sizes);
  expect(open[0]!.rule).toBe(current ?? 'first');
  expect(open.at(-1)!.rule).toBe('last');
});

/** Small faults that can be planted in the steps of a derivation. */
import { readDerive } from './derive.ts';
import type { OutcomeMutants } from './rule-kind.ts';

/** Each step left out, where there are several. */
export const deriveMutants: OutcomeMutants = (outcome, { fields }) => {
  const { steps } = readDerive(outcome);
  if (steps.length < 2) return [];
  return steps.map((s, i) => ({
    text: `step ${i + 1} (${fields.find((f) => f.key === s.target)?.name ?? (s.target || s.scratch)}) left out`,
    outcome: { steps: steps.filter((_, at) => at !== i) },
  }));
};

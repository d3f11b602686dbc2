/**
 * Faults to plant in outcomes, besides those in their formulas. A registry beside that of the kinds: only the strength of
 * tests asks for them, and whoever edits a rule need not wait for them.
 */
import { bandMutants, groupMutants } from './categorize-mutants.ts';
import { readCategorize } from './categorize-outcome.ts';
import { deriveMutants } from './derive-mutants.ts';
import type { RuleKindKey } from './index.ts';
import { mapMutants } from './map-mutants.ts';
import type { OutcomeMutants } from './rule-kind.ts';
import { validateMutants } from './validate-mutants.ts';

const mutants: Readonly<Record<RuleKindKey, OutcomeMutants>> = {
  // Its value is a formula, and mutated as such.
  default: () => [],
  derive: deriveMutants,
  categorize: (outcome, recordType, _, writing) =>
    readCategorize(outcome).groups.length > 0 ? groupMutants(outcome) : bandMutants(outcome, recordType, writing),
  validate: validateMutants,
  map: mapMutants,
};

export const outcomeMutants = (kind: RuleKindKey): OutcomeMutants => mutants[kind];

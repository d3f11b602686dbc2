/** Small faults that can be planted in what a validation asks. */
import { nameOfField } from '../../document/names.ts';
import type { Mutant, OutcomeMutants } from './rule-kind.ts';
import { readValidate, type Validate } from './validate.ts';

/** Each thing that is asked, left out. */
export const validateMutants: OutcomeMutants = (outcome, recordType) => {
  const o = readValidate(outcome);
  const name = (key: string): string => nameOfField(recordType.fields, key);
  const without = <K extends Exclude<keyof Validate, 'about'>>(part: K, what: (at: number) => string): Mutant[] =>
    o[part].map((_, i) => ({
      text: `${what(i)} left out`,
      outcome: { ...o, [part]: (o[part] as readonly unknown[]).filter((_x, at) => at !== i) },
    }));
  return [
    ...without('checks', (i) => `“${o.checks[i]!.message}”`),
    ...without('required', (i) => `${name(o.required[i]!)} required`),
    ...without('hidden', (i) => `${name(o.hidden[i]!)} hidden`),
    ...without('locked', (i) => `${name(o.locked[i]!)} locked`),
    ...without('limits', (i) => `the limit on ${name(o.limits[i]!.field)}`),
  ];
};

/** The numbers that a rule's source gives on the sample set, for its histogram. */
import { findRuleKind, type HeldValues } from '@rigid-rule/core/compile';
import type { Field, RecordType, Rule } from '@rigid-rule/core/document';
import { fieldTypeOf } from '@rigid-rule/core/language';

export interface SampleValues {
  /** In ascending order. */
  readonly values: readonly number[];
  readonly blanks: number;
}

export const noValues: SampleValues = { values: [], blanks: 0 };

/** The field of numbers that a rule goes by, where there is one. */
export function numericSource(rule: Rule | undefined, recordType: RecordType): Field | undefined {
  const source = rule && findRuleKind(rule.kind)?.source?.(rule.outcome);
  const field = recordType.fields.find((f) => f.name === source);
  return field && fieldTypeOf(field).numeric ? field : undefined;
}

/** `held`: what samples hold in that field. */
export function sampleValues(held: readonly HeldValues[]): SampleValues {
  const values: number[] = [];
  let blanks = 0;
  for (const {
    held: [value],
    count,
  } of held)
    if (typeof value !== 'number') blanks += count;
    else for (let i = 0; i < count; i++) values.push(value);
  return { values: values.sort((a, b) => a - b), blanks };
}

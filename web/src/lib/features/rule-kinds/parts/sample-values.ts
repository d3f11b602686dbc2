/** The numbers that a rule's source gives on the sample set, for its histogram. */
import { findRuleKind } from '@rigid-rule/core/compile';
import type { RecordType, Rule } from '@rigid-rule/core/document';
import { fieldTypeOf } from '@rigid-rule/core/language';
import type { SampleRecord } from '$lib/features/samples/samples.svelte.ts';

export interface SampleValues {
  /** In ascending order. */
  readonly values: readonly number[];
  readonly blanks: number;
}

export const noValues: SampleValues = { values: [], blanks: 0 };

export function sampleValues(
  rule: Rule | undefined,
  recordType: RecordType,
  samples: readonly SampleRecord[],
): SampleValues {
  if (!rule) return noValues;
  const source = findRuleKind(rule.kind)?.source?.(rule.outcome);
  const field = recordType.fields.find((f) => f.name === source);
  if (!field || !fieldTypeOf(field).numeric) return noValues;
  const values = samples.flatMap(({ data }) => {
    const v = data[field.key];
    return typeof v === 'number' ? [v] : [];
  });
  return { values: values.sort((a, b) => a - b), blanks: samples.length - values.length };
}

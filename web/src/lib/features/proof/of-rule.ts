/** Which tests speak of a rule. */
import { targetsOf } from '@rigid-rule/core/compile';
import type { Rule, RuleTest } from '@rigid-rule/core/document';

/** Whether a test says of a rule that it acts or does not, or what its fields come to. */
export function speaksOf({ expect, family, recordType }: RuleTest, rule: Rule): boolean {
  if (recordType !== rule.recordType) return false;
  const named = [...(expect.ran ?? []), ...(expect.didNotRun ?? [])];
  if (named.length > 0) return named.includes(rule.key);
  const targets = targetsOf(rule);
  const looked = [
    ...Object.keys(expect.fields ?? {}),
    ...Object.keys(expect.states ?? {}),
    ...(family?.cases?.expected ?? []),
  ];
  return looked.some((f) => targets.includes(f));
}

export const testsOf = (tests: readonly RuleTest[], rule: Rule): readonly RuleTest[] =>
  tests.filter((t) => speaksOf(t, rule));

/** Which tests speak of a rule, and what is said of it in few words. */
import { targetsOf, type TypeProgram } from '@rigid-rule/core/compile';
import { sameJson, type Rule, type RuleTest } from '@rigid-rule/core/document';
import { casesOf, linesOf } from '@rigid-rule/core/rule-tests';

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

/** Whether a test, in one of its cases, sends all that is tried. */
export const triesAll = (
  test: RuleTest,
  tried: readonly { readonly key: string; readonly value: unknown }[],
  type: TypeProgram | undefined,
): boolean =>
  linesOf(test, type).some(({ test: { sent } }) => tried.every((t) => t.key in sent && sameJson(sent[t.key], t.value)));

export const testsOf = (tests: readonly RuleTest[], rule: Rule): readonly RuleTest[] =>
  tests.filter((t) => speaksOf(t, rule));

export const caseCount = (tests: readonly RuleTest[]): number => tests.reduce((n, t) => n + casesOf(t), 0);

/** The cases of tests: how many there are, and what they send. */
import type { TypeProgram } from '@rigid-rule/core/compile';
import { sameJson, type RuleTest } from '@rigid-rule/core/document';
import { casesOf, linesOf } from '@rigid-rule/core/rule-tests';

/** Whether a test, in one of its cases, sends all that is tried. */
export const triesAll = (
  test: RuleTest,
  tried: readonly { readonly key: string; readonly value: unknown }[],
  type: TypeProgram | undefined,
): boolean =>
  linesOf(test, type).some(({ test: { sent } }) => tried.every((t) => t.key in sent && sameJson(sent[t.key], t.value)));

export const caseCount = (tests: readonly RuleTest[]): number => tests.reduce((n, t) => n + casesOf(t), 0);

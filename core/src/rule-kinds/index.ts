/** The registry of rule kinds: adding one is one file and one line here. */
import { categorize } from './categorize.ts';
import type { RuleKind } from './rule-kind.ts';

export const ruleKinds: readonly RuleKind[] = [categorize];

const byKey = new Map(ruleKinds.map((k) => [k.key, k]));

export function findRuleKind(key: string): RuleKind | undefined {
  return byKey.get(key);
}

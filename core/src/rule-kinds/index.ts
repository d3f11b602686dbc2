/** The registry of rule kinds: adding one is one file and one line here. */
import { categorize } from './categorize.ts';
import { fillBlank } from './default.ts';
import { derive } from './derive.ts';
import type { RuleKind } from './rule-kind.ts';
import { map } from './map.ts';
import { validate } from './validate.ts';

export const ruleKinds: readonly RuleKind[] = [fillBlank, derive, categorize, validate, map];

const byKey = new Map(ruleKinds.map((k) => [k.key, k]));

export function findRuleKind(key: string): RuleKind | undefined {
  return byKey.get(key);
}

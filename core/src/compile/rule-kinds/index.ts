/** The registry of rule kinds: adding one is one file and one line here. */
import type { Rule } from '../../document/document.ts';
import { categorize } from './categorize.ts';
import { fillBlank } from './default.ts';
import { derive } from './derive.ts';
import type { RuleKind } from './rule-kind.ts';
import { map } from './map.ts';
import { validate } from './validate.ts';

const registry = [fillBlank, derive, categorize, validate, map] as const;

/** Keys of all rule kinds. */
export type RuleKindKey = (typeof registry)[number]['key'];
export const ruleKinds: readonly RuleKind<RuleKindKey>[] = registry;

const byKey = new Map<string, RuleKind<RuleKindKey>>(ruleKinds.map((k) => [k.key, k]));

export function findRuleKind(key: string): RuleKind<RuleKindKey> | undefined {
  return byKey.get(key);
}

/** Keys of the fields that a rule writes or asks something of; none for a kind that this version does not know. */
export const targetsOf = ({ kind, outcome }: Pick<Rule, 'kind' | 'outcome'>): readonly string[] =>
  findRuleKind(kind)?.targets(outcome) ?? [];

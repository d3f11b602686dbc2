/** Rules made in the draft: begun on one field, of one kind, awake everywhere; duplicated; pasted. Loaded by whoever makes one. */
import { ruleAddress } from '$lib/addresses.ts';
import { entryPointsOf, targetsOf, usualMomentsOf, type RuleKind, type RuleKindKey } from '@rigid-rule/core/compile';
import { partProblem, type Field, type RecordType, type Rule, type Rulebook } from '@rigid-rule/core/document';
import { fieldsBefore } from '$lib/features/rule-kinds/parts/recent-fields.ts';
import { clipboardFormat } from './rule-text.ts';
import type { Draft } from '$lib/features/draft/draft.svelte.ts';

/** How a rule of the kind is called behind the name of its field. */
const beginnings = {
  default: 'filled while blank',
  derive: 'worked out',
  categorize: 'by classes',
  validate: 'checked',
  map: 'mapped',
} satisfies Record<RuleKindKey, string>;

export function beginRule(
  kind: RuleKind<RuleKindKey>,
  field: Field,
  type: RecordType,
  rulebook: Rulebook,
  key: string,
): Rule {
  const siblings = rulebook.rules.filter((r) => r.recordType === type.key && targetsOf(r).includes(field.key));
  return {
    key,
    recordType: type.key,
    name: `${field.name}, ${beginnings[kind.key]}`,
    purpose: '',
    kind: kind.key,
    on: true,
    position: nextPosition(rulebook),
    moments: usualMomentsOf(kind),
    entryPoints: entryPointsOf(type).map((e) => e.key),
    repeat: 'wakes',
    // All rules on one field say the same of who wins.
    winner: siblings[0]?.winner ?? 'rule',
    outcome: kind.createOutcome(field, type, fieldsBefore(type.key, field.key)),
    notify: [],
  };
}

const nextPosition = ({ rules }: Rulebook): number => Math.max(0, ...rules.map((r) => r.position)) + 1;

/** Makes the rule in the draft and says its address. */
export function createRule(draft: Draft, kind: RuleKind<RuleKindKey>, field: Field, type: RecordType): string {
  const key = draft.freeKey('rule', `${type.key} ${field.name} ${beginnings[kind.key]}`);
  draft.create({ kind: 'rule', key }, beginRule(kind, field, type, draft.rulebook, key), 'make a rule');
  return ruleAddress(type.key, key);
}

export function duplicateRule(draft: Draft, rule: Rule): string {
  const name = `${rule.name}, copy`;
  const key = draft.freeKey('rule', name);
  draft.create(
    { kind: 'rule', key },
    { ...rule, key, name, position: nextPosition(draft.rulebook) },
    'duplicate a rule',
  );
  return ruleAddress(rule.recordType, key);
}

/** The rule that a text holds, or why there is none that can be pasted; undefined where the text is something else. */
export function ruleFromText(text: string): Rule | { readonly problem: string } | undefined {
  if (!text.includes(clipboardFormat)) return undefined;
  let copied: { format?: unknown; rule?: unknown };
  try {
    copied = JSON.parse(text) as typeof copied;
  } catch {
    return { problem: 'The text of the rule is no JSON any more.' };
  }
  if (copied.format !== clipboardFormat) return undefined;
  const problem = partProblem('rule', copied.rule);
  return problem === undefined ? (copied.rule as Rule) : { problem };
}

/** Makes a pasted rule in the draft, on the record type that is on show; what has no field there is said by the sheet. */
export function pasteRule(draft: Draft, rule: Rule, type: RecordType): string {
  const key = draft.freeKey('rule', rule.name);
  const known = new Set(entryPointsOf(type).map((e) => e.key));
  const pasted: Rule = {
    ...rule,
    key,
    recordType: type.key,
    position: nextPosition(draft.rulebook),
    entryPoints: rule.entryPoints.filter((e) => known.has(e)),
  };
  draft.create({ kind: 'rule', key }, pasted, 'paste a rule');
  return ruleAddress(type.key, key);
}

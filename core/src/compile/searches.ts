/** By which fields records are found: what a store has to keep an index of so that rules get their answers. */
import { fieldTypeOf } from '../language/field-types/index.ts';
import { findRuleKind } from './rule-kinds/index.ts';
import type { Rulebook } from '../document/document.ts';
import type { MatchMode } from '../values/match-keys.ts';

export interface SearchIndex {
  readonly recordType: string;
  /** Key of the field. */
  readonly field: string;
  readonly mode: MatchMode;
}

/** Fields or rules that are looked at in one step. */
const inStep = 200;

/**
 * Lookups (their other end is a child list), unique fields, and what match-a-record rules search by. In steps: there may
 * be thousands of rules.
 */
export function* searchesInSteps({
  recordTypes,
  rules,
}: Pick<Rulebook, 'recordTypes' | 'rules'>): Generator<void, readonly SearchIndex[]> {
  const found = new Map<string, SearchIndex>();
  const add = (recordType: string, field: string, mode: MatchMode): void =>
    void found.set(`${recordType}\0${field}\0${mode}`, { recordType, field, mode });
  const fields = new Set<string>();
  for (const type of recordTypes)
    for (const field of type.fields) {
      fields.add(`${type.key}\0${field.key}`);
      if (fields.size % inStep === 0) yield;
      if (fieldTypeOf(field).links || field.unique) add(type.key, field.key, 'exact');
    }
  for (const [i, rule] of rules.entries()) {
    if (i % inStep === 0) yield;
    const match = findRuleKind(rule.kind)?.structureOf?.(rule.outcome).match;
    for (const way of match?.ways ?? [])
      if (fields.has(`${match!.recordType}\0${way.field}`)) add(match!.recordType, way.field, way.mode);
  }
  return [...found.values()];
}

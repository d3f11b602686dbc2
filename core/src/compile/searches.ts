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

/** Lookups (their other end is a child list), unique fields, and what match-a-record rules search by. */
export function searchesOf({ recordTypes, rules }: Pick<Rulebook, 'recordTypes' | 'rules'>): readonly SearchIndex[] {
  const found = new Map<string, SearchIndex>();
  const add = (recordType: string, field: string, mode: MatchMode): void => {
    const type = recordTypes.find((t) => t.key === recordType);
    if (type?.fields.some((f) => f.key === field))
      found.set(`${recordType}\0${field}\0${mode}`, { recordType, field, mode });
  };
  for (const type of recordTypes)
    for (const field of type.fields) if (fieldTypeOf(field).links || field.unique) add(type.key, field.key, 'exact');
  for (const rule of rules) {
    const match = findRuleKind(rule.kind)?.structureOf?.(rule.outcome).match;
    for (const way of match?.ways ?? []) add(match!.recordType, way.field, way.mode);
  }
  return [...found.values()];
}

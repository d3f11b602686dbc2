/** The rules of a record type by the fields that they are about. */
import type { CompiledRule, TypeProgram } from './compiled.ts';

/** Each list in running order. */
export interface FieldRules {
  readonly writers: readonly CompiledRule[];
  /** Rules that write the field or ask something of it. */
  readonly targeting: readonly CompiledRule[];
  /** Rules that read it, as it is or as it was before the write. */
  readonly readers: readonly CompiledRule[];
}

export interface RulesByField {
  /** By slot. */
  readonly fields: readonly FieldRules[];
  /** Rules that are about no field of this record type: they notify, or write on other records. */
  readonly elsewhere: readonly CompiledRule[];
}

export function rulesByField({ slots, slotOf, rules }: TypeProgram): RulesByField {
  const fields = slots.map(() => ({
    writers: [] as CompiledRule[],
    targeting: [] as CompiledRule[],
    readers: [] as CompiledRule[],
  }));
  const elsewhere: CompiledRule[] = [];
  for (const rule of rules) {
    const asked = (rule.kind?.targets(rule.rule.outcome) ?? []).flatMap((key) => slotOf.get(key) ?? []);
    const targets = new Set([...rule.writes, ...asked]);
    for (const slot of new Set(rule.writes)) fields[slot]!.writers.push(rule);
    for (const slot of targets) fields[slot]!.targeting.push(rule);
    for (const slot of new Set([...rule.reads.present, ...rule.reads.previous])) fields[slot]!.readers.push(rule);
    if (targets.size === 0) elsewhere.push(rule);
  }
  return { fields, elsewhere };
}

const none: FieldRules = { writers: [], targeting: [], readers: [] };

/** Empty lists for a field that the record type does not have. */
export const rulesOfField = (type: TypeProgram, field: string): FieldRules =>
  rulesByField(type).fields[type.slotOf.get(field) ?? -1] ?? none;

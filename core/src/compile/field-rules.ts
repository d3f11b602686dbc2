/** The rules of a record type by the fields that they are about. */
import { fieldTypeOf } from '../language/field-types/index.ts';
import type { CompiledRule, TypeProgram } from './compiled.ts';

/** Each list in running order. */
export interface FieldRules {
  readonly writers: readonly CompiledRule[];
  /** Rules that write the field or ask something of it. */
  readonly targeting: readonly CompiledRule[];
  /** Rules that read it, as it is or as it was before the write, or tell somebody what it holds. */
  readonly readers: readonly CompiledRule[];
}

export interface RulesByField {
  /** By slot. */
  readonly fields: readonly FieldRules[];
  /** Rules that are about no field of this record type: they notify, or write on other records. */
  readonly elsewhere: readonly CompiledRule[];
}

export interface FieldOfType {
  /** Keys. */
  readonly recordType: string;
  readonly field: string;
}

/** Fields of the records that a rule writes besides its own. `from`: the type of the rule. */
export function sentFields({ structure: { sends } }: CompiledRule, from: TypeProgram): readonly FieldOfType[] {
  if (!sends) return [];
  const lookup = from.recordType.fields.find((f) => f.key === sends.onto && fieldTypeOf(f).links);
  const recordType = lookup ? lookup.recordType : from.childLists.get(sends.onto)?.recordType;
  return recordType === undefined ? [] : sends.fields.map((field) => ({ recordType, field }));
}

/**
 * @param among Record types whose rules are looked at: those of others write it from their records, and read it along a
 *   link. To look at a type's rules has them compiled.
 */
export function rulesByField(type: TypeProgram, among: Iterable<TypeProgram> = [type]): RulesByField {
  const { slots, slotOf, rules } = type;
  const fields = slots.map(() => ({
    writers: new Set<CompiledRule>(),
    targeting: new Set<CompiledRule>(),
    readers: new Set<CompiledRule>(),
  }));
  const elsewhere: CompiledRule[] = [];
  for (const rule of rules) {
    const asked = (rule.kind?.targets(rule.rule.outcome) ?? []).flatMap((key) => slotOf.get(key) ?? []);
    const targets = new Set([...rule.writes, ...asked]);
    for (const slot of rule.writes) fields[slot]!.writers.add(rule);
    for (const slot of targets) fields[slot]!.targeting.add(rule);
    for (const slot of [...rule.reads.present, ...rule.reads.previous, ...rule.told.present])
      fields[slot]!.readers.add(rule);
    if (targets.size === 0) elsewhere.push(rule);
  }
  const at = ({ recordType, field }: FieldOfType) =>
    fields[recordType === type.recordType.key ? (slotOf.get(field) ?? -1) : -1];
  for (const from of among)
    for (const rule of from.rules) {
      for (const sent of sentFields(rule, from)) {
        at(sent)?.writers.add(rule);
        at(sent)?.targeting.add(rule);
      }
      for (const read of [...rule.related, ...rule.told.related]) at(read)?.readers.add(rule);
    }
  return {
    fields: fields.map((f) => ({ writers: [...f.writers], targeting: [...f.targeting], readers: [...f.readers] })),
    elsewhere,
  };
}

const none: FieldRules = { writers: [], targeting: [], readers: [] };

/** Empty lists for a field that the record type does not have. `among`: as above. */
export const rulesOfField = (type: TypeProgram, field: string, among?: Iterable<TypeProgram>): FieldRules =>
  rulesByField(type, among).fields[type.slotOf.get(field) ?? -1] ?? none;

/**
 * A trial group: a condition that limits a release to some records. Membership is decided when a record is first
 * written under the trial, on the stored record (a new one: on what was sent), and kept by the caller until it ends.
 */
import { createCondition, type Formula } from '../language/expression/formula.ts';
import type { Program, TypeProgram } from '../compile/compiled.ts';
import { RelatedReader } from '../records/related-reader.ts';
import type { Write } from '../records/write.ts';
import type { RecordSource } from '../records/record-source.ts';
import type { SlotIndex } from '../document/slots.ts';

/** The condition of a trial, checked in the scope of its record type. */
export const trialCondition = (type: TypeProgram, text: string): Formula => createCondition(text, type.scope);

/**
 * Whether the record of a write belongs to the trial. Unknown is no; what was sent and cannot be coerced counts as blank.
 * @throws {Unanswered} where the condition asks for a record that the world has no answer about.
 */
export function isTrialMember(program: Program, condition: Formula, write: Write, world: RecordSource): boolean {
  const type = program.types.get(write.recordType);
  if (!type || !condition.evaluate) return false;
  const host = { ...program.host, now: write.now, zone: program.rulebook.zone };
  const values = type.slots.map(({ field, type: fieldType }) => {
    if (write.before) return fieldType.read(write.before.data[field.key] ?? null, field, host);
    const coerced = fieldType.coerce(write.sent[field.key] ?? fieldType.starting, field);
    return fieldType.read('value' in coerced ? coerced.value : null, field, host);
  });
  const own = { type, value: (slot: SlotIndex) => values[slot] ?? null, changed: () => false };
  const related = new RelatedReader(program, write, world, own, host);
  const env = { record: values, previous: values, host, related };
  return condition.evaluate(env) === true;
}

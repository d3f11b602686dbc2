/** Records beside one that a rule is tried on: made up, since a rule that reads or writes them is tried on none else. */
import type { CompiledRule, Program, TypeProgram } from '../compile/compiled.ts';
import type { RecordData, SampleRecord } from '../document/document.ts';
import { linkedType } from '../language/field-types/index.ts';
import { usualValues } from './inputs.ts';

export interface Neighbours {
  /** The record, linked to them. */
  readonly record: RecordData;
  readonly related: readonly SampleRecord[];
}

/** Key of the lookup through which a rule writes another record. */
export function lookupWritten({ structure }: CompiledRule, { slotOf }: TypeProgram): string | undefined {
  const onto = structure.sends?.onto;
  return onto !== undefined && slotOf.has(onto) ? onto : undefined;
}

/** One record for each lookup that the rule reads, or through which it writes, and that is blank. */
export function neighboursOf(r: CompiledRule, type: TypeProgram, program: Program, record: RecordData): Neighbours {
  const written = lookupWritten(r, type);
  const related: SampleRecord[] = [];
  const links: Record<string, string> = {};
  for (const [slot, { field }] of type.slots.entries()) {
    const other = program.types.get(linkedType(field) ?? '');
    const asked = field.key === written || r.reads.present.some((read) => read === slot);
    if (!other || !asked || (record[field.key] ?? null) !== null) continue;
    const key = String(related.length + 1);
    links[field.key] = key;
    related.push({ recordType: other.recordType.key, key, data: filled(other) });
  }
  return { record: { ...record, ...links }, related };
}

const filled = ({ recordType }: TypeProgram): RecordData =>
  Object.fromEntries(
    recordType.fields.flatMap((f) => {
      const value = linkedType(f) === undefined ? usualValues(f).find((v) => v !== null && v !== false) : undefined;
      return value === undefined ? [] : [[f.key, value] as const];
    }),
  );

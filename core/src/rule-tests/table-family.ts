/** A mapping table as a test: a case for each of its rows, by what stands in them and not by what the rule does. */
import type { CompiledRule, Program, TypeProgram } from '../compile/compiled.ts';
import type { RuleTest, Stored } from '../document/document.ts';
import { holdingRecord } from './condition-records.ts';
import { slotNamed, testMoment, trialsOf } from './values.ts';
import type { SlotIndex } from '../document/slots.ts';

/** Rows beyond this are not each a case. */
const mostCases = 500;

/**
 * A test of each row whose keys are single values: they are sent, and the fields that the rule fills must come out as the
 * row has them. Undefined where the rule has no table, asks it with more than plain fields, writes other records, does
 * not act on new ones, or puts the values of several rows together.
 */
export function familyOfTable(r: CompiledRule, type: TypeProgram, program: Program): Omit<RuleTest, 'key'> | undefined {
  const asked = r.structure.table;
  const table = asked && program.tables.get(asked.key);
  if (!asked || !table || asked.targets.length === 0 || table.table.hitPolicy === 'collect') return undefined;
  if (!r.rule.moments.includes('creating')) return undefined;
  const slots = table.keyColumns.map(({ column }) => slotNamed(asked.keys[column.key], type));
  if (slots.length === 0 || slots.some((s) => s === undefined)) return undefined;
  const outputs = asked.columns.flatMap((key, i) => {
    const at = table.outputColumns.findIndex((c) => c.column.key === key);
    const slot = type.slotOf.get(asked.targets[i]!);
    return at < 0 || slot === undefined ? [] : [{ at, slot }];
  });
  const stored = (slot: SlotIndex, value: unknown): Stored => {
    const { field, type: fieldType } = type.slots[slot]!;
    const coerced = fieldType.coerce(value, field);
    return 'value' in coerced ? coerced.value : null;
  };
  const rows: Stored[][] = [];
  for (let row = 0; row < table.rowCount && rows.length < mostCases; row++) {
    const keys = table.keyCells(row).map((cell) => (cell.kind === 'values' ? cell.values[0] : undefined));
    if (keys.some((k) => k === undefined)) continue;
    const values = table.values(row);
    rows.push([
      ...slots.map((s, i) => stored(s!, keys[i])),
      ...outputs.map(({ at, slot }) => stored(slot, values[at])),
    ]);
  }
  if (rows.length === 0 || outputs.length === 0) return undefined;
  const keyOf = (slot: SlotIndex): string => type.slots[slot]!.field.key;
  const sent = slots.map((s) => keyOf(s!));
  const around = Object.entries(holdingRecord(r, type, trialsOf(r, type, program))).filter(([k]) => !sent.includes(k));
  const { rule } = r;
  return {
    name: `${rule.name}: each row of ${table.table.name}`,
    recordType: type.recordType.key,
    before: null,
    sent: Object.fromEntries(around),
    typed: around.map(([k]) => k),
    moment: 'creating',
    entryPoint: rule.entryPoints[0] ?? 'api',
    now: testMoment,
    expect: {},
    family: { cases: { sent, expected: outputs.map(({ slot }) => keyOf(slot)), rows } },
  };
}

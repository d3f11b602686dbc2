/** Rows of a file settled one by one, as a file import settles them; nothing is kept from row to row. */
import { compileProgram } from '../compile/program.ts';
import type { Program, TypeProgram } from '../compile/compiled.ts';
import { settle } from '../settle/settle.ts';
import type { SettleOptions } from '../settle/settlement.ts';
import { RecordsSource } from '../records/record-source.ts';
import type { Settlement } from '../settle/settlement.ts';
import type { Field, Rulebook } from '../document/document.ts';
import { slotAt, type SlotIndex } from '../document/slots.ts';

export interface RowSettler {
  readonly fields: readonly Field[];
  /** Columns of the settled file: those of the source that are fields, and those that rules write. */
  readonly columns: readonly string[];
  /** Columns of the source that name no field. */
  readonly strangers: readonly string[];
  settle(row: readonly string[]): { readonly cells: readonly string[]; readonly settlement: Settlement };
}

export type SettlerResult = { readonly settler: RowSettler } | { readonly problem: string };

export function createRowSettler(
  rulebook: Rulebook,
  typeName: string,
  entryPoint: string,
  header: readonly string[],
  now: string,
  options: SettleOptions,
): SettlerResult {
  // Other records that rules ask for are the rulebook's samples.
  const world = new RecordsSource((rulebook.samples ?? []).map((s) => ({ ...s, id: s.key })));
  const program = compileProgram(rulebook);
  const type = typeNamed(program, typeName);
  if (!type) return { problem: `There is no record type ${typeName}.` };
  if (program.broken.length > 0)
    return { problem: `These rules do not compile: ${program.broken.map((r) => r.rule.name).join(', ')}. Run check.` };
  const slots = header.map((name) => slotNamed(type, name));
  const written = [...new Set(type.rules.flatMap((r) => r.writes))].filter((s) => !slots.includes(s));
  const keys = type.slots.map((s) => s.field.key);
  const out = [...slots.filter((s) => s >= 0), ...written];
  return {
    settler: {
      fields: type.recordType.fields,
      columns: out.map((s) => type.slots[s]!.field.name),
      strangers: header.filter((_, i) => slots[i]! < 0),
      settle(row) {
        // A blank cell of a file is not sent.
        const sent: Record<string, unknown> = {};
        for (let i = 0; i < slots.length; i++) {
          const [slot, text] = [slots[i]!, row[i]];
          if (slot >= 0 && text !== undefined && text !== '') sent[keys[slot]!] = parsed(type, slot, text);
        }
        const write = {
          recordType: type.recordType.key,
          before: null,
          sent,
          typed: [],
          moment: 'creating',
          entryPoint,
          now,
        } as const;
        const settlement = settle(program, write, world, options);
        const cells = out.map((s) => plain(settlement.data[keys[s]!]));
        return { cells, settlement };
      },
    },
  };
}

/** A record type by its key or name. */
export const typeNamed = (program: Program, name: string): TypeProgram | undefined =>
  [...program.types.values()].find(({ recordType: t }) => t.key === name || t.name === name);

function slotNamed({ slots }: TypeProgram, name: string): SlotIndex {
  const wanted = name.trim();
  return slotAt(
    slots.findIndex(({ field }) => field.key === wanted || field.name === wanted || field.label === wanted),
  );
}

function parsed({ slots }: TypeProgram, slot: SlotIndex, text: string): unknown {
  const { field, type } = slots[slot]!;
  return type.parse(text, field);
}

/** Stored values as a file has them: numbers plain, lists with semicolons. */
export function plain(v: Settlement['data'][string] | undefined): string {
  if (v === undefined || v === null) return '';
  return Array.isArray(v) ? v.join(';') : String(v);
}

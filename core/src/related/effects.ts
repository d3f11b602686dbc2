/** What one write does beyond its own record, as people are told before it and after. */
import { sameStored } from '../language/field-types/field-type.ts';
import type { RecordData, Stored } from '../document/document.ts';
import type { Program } from '../compile/compiled.ts';
import type { Transaction } from './propagation.ts';

/** One other record and what becomes of it. */
export interface Effect {
  readonly recordType: string;
  readonly id: string;
  readonly changes: readonly {
    readonly field: string;
    /** Absent where the record is only read when it is written. */
    readonly from?: Stored;
    readonly to: Stored;
    /** Key of the rule. */
    readonly rule?: string;
  }[];
  /** Not in the same transaction: a job does it right after. */
  readonly later?: true;
}

/** A record that several waves changed is told once, from its first state to its last; what comes back to it is none. */
export function effectsOf({ followers, childWrites }: Pick<Transaction, 'followers' | 'childWrites'>): Effect[] {
  const found = new Map<string, { readonly before: RecordData; changes: Map<string, Effect['changes'][number]> }>();
  for (const { recordType, id, before, settlement } of followers) {
    const key = `${recordType}\0${id}`;
    const known = found.get(key) ?? { before, changes: new Map<string, Effect['changes'][number]>() };
    found.set(key, known);
    for (const { field, to, author } of settlement.changes) {
      const from = known.before[field] ?? null;
      known.changes.delete(field);
      if (sameStored(from, to)) continue;
      known.changes.set(field, { field, from, to, ...(author.by === 'rule' ? { rule: author.rule } : {}) });
    }
  }
  const effects = [...found].map(([key, { changes }]): Effect => {
    const [recordType = '', id = ''] = key.split('\0');
    return { recordType, id, changes: [...changes.values()] };
  });
  const later = childWrites.map(({ recordType, id, values }): Effect => ({
    recordType,
    id,
    changes: values.map(({ field, value, rule }) => ({ field, to: value, rule })),
    later: true,
  }));
  return [...effects.filter((e) => e.changes.length > 0), ...later];
}

/** Keys of the fields of a record type that rules read from elsewhere: a change of them may reach other records. */
export function fieldsReadElsewhere(program: Program, recordType: string): readonly string[] {
  const found = new Set<string>();
  for (const type of program.types.values())
    for (const rule of type.rules)
      for (const { route, recordType: read, field } of rule.compiles ? rule.related : []) {
        // Without a field only that the records are there is read.
        if (read === recordType && field !== '') found.add(field);
        for (const hop of route) if (hop.by === 'children' && hop.to === recordType) found.add(hop.field);
      }
  return [...found];
}

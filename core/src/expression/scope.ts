/** What names mean inside the formulas of one record type. */
import { fieldTypeOf } from '../field-types/index.ts';
import { functionNames } from '../functions/index.ts';
import type { Field, RecordType } from '../rulebook/document.ts';
import { createParser, type FormulaParser, type NameScope } from './parse.ts';
import type { Type } from './types.ts';

export interface FieldBinding {
  readonly field: Field;
  /** Place of the field's value in the record that a formula runs on. */
  readonly slot: number;
  readonly type: Type;
}

export interface Scope {
  readonly fields: ReadonlyMap<string, FieldBinding>;
  readonly parser: FormulaParser;
}

export const previousName = 'previous';

/** Built once for a record type; formulas of one scope share its parser. */
export function createScope(recordType: Pick<RecordType, 'fields'>): Scope {
  const fields = new Map<string, FieldBinding>();
  recordType.fields.forEach((field, slot) => {
    fields.set(field.name, { field, slot, type: fieldTypeOf(field).typeOf(field) });
  });
  const own: Record<string, NameScope | true> = Object.create(null) as Record<string, true>;
  for (const name of fields.keys()) own[name] = true;
  const names: Record<string, NameScope | true> = Object.assign(Object.create(null), own) as Record<string, true>;
  for (const name of functionNames) names[name] = true;
  names[previousName] = own;
  return { fields, parser: createParser(names) };
}

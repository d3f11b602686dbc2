/** What names mean inside the formulas of one record type. */
import { fieldTypeOf } from '../field-types/index.ts';
import { functionNames } from '../functions/index.ts';
import type { Field, RecordType } from '../rulebook/document.ts';
import { createParser, type FormulaParser, type NameScope } from './parse.ts';
import { anyType, type Type } from './types.ts';

export interface FieldBinding {
  readonly field: Pick<Field, 'name'>;
  /** Place of the field's value in the record that a formula runs on. */
  readonly slot: number;
  readonly type: Type;
}

export interface Scope {
  readonly fields: ReadonlyMap<string, FieldBinding>;
  readonly names: NameScope;
  readonly parser: FormulaParser;
}

export const previousName = 'previous';

/** A scope with further names, of values that are not fields. */
export function extendScope(scope: Scope, names: readonly string[]): Scope {
  const known = Object.assign(Object.create(null) as Record<string, NameScope | true>, scope.names);
  for (const name of names) known[name] = true;
  return { ...scope, names: known, parser: createParser(known) };
}

/** A scope of names whose values come in the order of `names` and may be anything: what the command line gives. */
export function createOpenScope(names: readonly string[], known: NameScope = {}): Scope {
  const fields = new Map(names.map((name, slot) => [name, { field: { name }, slot, type: anyType }]));
  const own = Object.assign(Object.create(null) as Record<string, NameScope | true>, known);
  for (const name of functionNames) own[name] ??= true;
  return { fields, names: own, parser: createParser(own) };
}

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
  return { fields, names, parser: createParser(names) };
}

/** The registry of field types: adding one is one file and one line here. */
import type { Field } from '../../document/document.ts';
import { date, dateTime } from './date.ts';
import { duration } from './duration.ts';
import type { FieldType } from './field-type.ts';
import { money, number, percent } from './number.ts';
import { multiSelect, picklist } from './options.ts';
import { email, longText, lookup, phone, text, user, webAddress } from './text.ts';
import { yesNo } from './yes-no.ts';

const registry = [
  text,
  longText,
  number,
  money,
  percent,
  yesNo,
  date,
  dateTime,
  duration,
  picklist,
  multiSelect,
  lookup,
  user,
  email,
  phone,
  webAddress,
] as const;

/** Keys of all field types. */
export type FieldTypeKey = (typeof registry)[number]['key'];
export const fieldTypes: readonly FieldType<FieldTypeKey>[] = registry;

const byKey = new Map<string, FieldType<FieldTypeKey>>(fieldTypes.map((t) => [t.key, t]));

/** The descriptor of a field's type. A type that is not known reads as text, so that no record is lost over it. */
export function fieldTypeOf(field: Pick<Field, 'type'>): FieldType<FieldTypeKey> {
  return byKey.get(field.type) ?? text;
}

/** Key of the record type whose records the field names; undefined for a field that names none. */
export const linkedType = (field: Field): string | undefined =>
  fieldTypeOf(field).links ? (field.recordType ?? '') : undefined;

export function isFieldType(key: string): boolean {
  return byKey.has(key);
}

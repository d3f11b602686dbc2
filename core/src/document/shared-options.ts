/** Fields that share the options of another field of their record type: one list, kept with the field that has it. */
import type { Field, RecordType } from './document.ts';

type Fields = RecordType['fields'];

/** The field whose list a field's options are: itself, or the one that it says. */
export function optionOwner(fields: Fields, field: Field): Field {
  const seen = new Set<Field>();
  let owner = field;
  while (owner.optionsOf !== undefined && !seen.has(owner)) {
    seen.add(owner);
    const { optionsOf } = owner;
    owner = fields.find((f) => f.key === optionsOf) ?? owner;
  }
  return owner;
}

const filled = new WeakMap<Field, Field>();

/** Fields with the options that they share; the same objects, and the same list, as long as nothing is missing. */
export function withSharedOptions(fields: Fields): Fields {
  if (!fields.some((f) => f.optionsOf !== undefined)) return fields;
  const whole = fields.map((field) => {
    if (field.optionsOf === undefined) return field;
    const { options } = optionOwner(fields, field);
    if (!options || field.options === options) return field;
    let known = filled.get(field);
    if (known?.options !== options) filled.set(field, (known = { ...field, options }));
    return known;
  });
  return whole.every((f, i) => f === fields[i]) ? fields : whole;
}

/** As a document keeps it: what is shared stands once. */
export function withoutSharedOptions(field: Field): Field {
  if (field.optionsOf === undefined || field.options === undefined) return field;
  const { options: _, ...own } = field;
  return own;
}

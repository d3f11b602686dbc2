/** How a form is laid out: its fields in groups, the groups in two columns. */
import type { Field, Form, RecordType } from '@rigid-rule/core/document';

export interface FieldGroup {
  /** Empty for fields of no group. */
  readonly name: string;
  readonly fields: readonly Field[];
}

export interface FormLayout {
  readonly form: Form;
  readonly fields: readonly Field[];
  /** Of about the same length. */
  readonly columns: readonly (readonly FieldGroup[])[];
}

/** @throws {RangeError} where the record type has no such form. */
export function layoutForm({ forms, fields: all }: RecordType, formName: string): FormLayout {
  const form = forms.find((f) => f.key === formName);
  if (!form) throw new RangeError(`no form ${formName}`);
  const fields = all.filter((f) => !form.fields || form.fields.includes(f.key));
  const groups = [...new Set(fields.map((f) => f.group ?? ''))].map((name) => ({
    name,
    fields: fields.filter((f) => (f.group ?? '') === name),
  }));
  const half = fields.length / 2;
  let count = 0;
  const left = groups.filter((g) => {
    const here = count === 0 || count < half - 1;
    count += g.fields.length;
    return here;
  });
  return { form, fields, columns: [left, groups.filter((g) => !left.includes(g))] };
}

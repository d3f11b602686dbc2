import type { Field, Stored } from '@rigid-rule/core/document';
import { fieldTypeOf, type FieldType } from '@rigid-rule/core/language';
import { shownInstant, typedInstant } from '$lib/instants.ts';
import type { WrittenForm } from '$lib/locale.ts';
import { organisation, ownForm } from '$lib/organisation.svelte.ts';

/** Names of the records and users that values refer to: by record type, then by id. */
export type Titles = Readonly<Record<string, Readonly<Record<string, string>>>>;

/** Names that are looked up as they are shown. `titleOf`: undefined where there is no such record or user. */
export function titlesBy(titleOf: (recordType: string, id: string) => string | undefined): Titles {
  const lookedUp = <T>(found: (key: string) => T): Record<string, T> =>
    new Proxy({}, { get: (_, key) => (typeof key === 'string' ? found(key) : undefined) });
  return lookedUp((recordType) => lookedUp((id) => titleOf(recordType, id) as string));
}

/** A stored value as a person reads it; an empty text for blank. */
export function shownValue(field: Field, stored: Stored | undefined, titles: Titles = {}): string {
  if (stored === undefined || stored === null) return '';
  const known = titles[field.recordType ?? field.type];
  if (known && typeof stored === 'string' && known[stored] !== undefined) return known[stored];
  return inOwnForm(field, fieldTypeOf(field).format(stored, field));
}

/** The neutral text of a value as the organisation writes it. */
export const inOwnForm = (field: Field, neutral: string): string =>
  writers[fieldTypeOf(field).written ?? 'plain'](neutral, ownForm());

/** What `format` gives, as the organisation writes it. */
const writers: Readonly<
  Record<NonNullable<FieldType['written']> | 'plain', (neutral: string, form: WrittenForm) => string>
> = {
  plain: (text) => text,
  number: (text, form) => form.number(text),
  money: (text, form) => form.money(text),
  day: (text, form) => form.day(text),
  instant: (text, form) => shownInstant(text, organisation.zone, form),
};

const readers: Readonly<Record<keyof typeof writers, (typed: string, form: WrittenForm) => string>> = {
  plain: (text) => text,
  number: (text, form) => form.typedNumber(text),
  money: (text, form) => form.typedNumber(text),
  day: (text, form) => form.typedDay(text),
  instant: (text, form) => typedInstant(text, organisation.zone, form),
};

/** What a person typed, in the form of the organisation or the neutral one, as the field type takes it. */
export function typedValue(field: Field, text: string): unknown {
  const type = fieldTypeOf(field);
  return type.parse(readers[type.written ?? 'plain'](text, ownForm()), field);
}

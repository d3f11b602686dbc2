import type { Field, Stored } from '@rigid-rule/core/document';
import { fieldTypeOf, writtenValue, type FieldType, type Writing } from '@rigid-rule/core/language';
import { typedInstant } from '$lib/instants.ts';
import type { WrittenForm } from '$lib/locale.ts';
import { organisation, ownForm, ownSentences } from '$lib/organisation.svelte.ts';

/** Names of the records and users that values refer to: by record type, then by id. */
export type Titles = Readonly<Record<string, Readonly<Record<string, string>>>>;

/** Names that are looked up as they are shown. `titleOf`: undefined where there is no such record or user. */
export function titlesBy(titleOf: (recordType: string, id: string) => string | undefined): Titles {
  const lookedUp = <T>(found: (key: string) => T): Record<string, T> =>
    new Proxy({}, { get: (_, key) => (typeof key === 'string' ? found(key) : undefined) });
  return lookedUp((recordType) => lookedUp((id) => titleOf(recordType, id) as string));
}

/** A stored value as a person reads it, wherever it stands; an empty text for blank. */
export const shownValue = (field: Field, stored: Stored | undefined, titles?: Titles): string =>
  writtenAs(field, stored, titles, ownSentences);

/** The same where it is alone, to be edited: letter by letter what is stored. */
export const editedValue = (field: Field, stored: Stored | undefined, titles?: Titles): string =>
  writtenAs(field, stored, titles, { ...ownSentences, text: (text) => text });

function writtenAs(field: Field, stored: Stored | undefined, titles: Titles = {}, writing: Writing): string {
  if (stored === undefined || stored === null) return '';
  const name = typeof stored === 'string' ? titles[field.recordType ?? field.type]?.[stored] : undefined;
  return name === undefined ? writtenValue(field, stored, writing) : writing.text(name);
}

/** A neutral text of a value, or `blank`, as the organisation writes it. */
export const shownText = (written: FieldType['written'], neutral: string): string =>
  ownSentences[written ?? 'text'](neutral);

const readers: Readonly<
  Record<NonNullable<FieldType['written']> | 'plain', (typed: string, form: WrittenForm) => string>
> = {
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

import type { Field, Stored } from '@rigid-rule/core/document';
import { fieldTypeOf, writtenValue, type FieldType } from '@rigid-rule/core/language';
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

/** A stored value as a person reads it; an empty text for blank. */
export function shownValue(field: Field, stored: Stored | undefined, titles: Titles = {}): string {
  if (stored === undefined || stored === null) return '';
  const known = titles[field.recordType ?? field.type];
  if (known && typeof stored === 'string' && known[stored] !== undefined) return known[stored];
  return writtenValue(field, stored, ownSentences);
}

/** A neutral text of a value, or `blank`, as the organisation writes it. */
export const shownText = (written: FieldType['written'], neutral: string): string =>
  written ? ownSentences[written](neutral) : neutral;

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

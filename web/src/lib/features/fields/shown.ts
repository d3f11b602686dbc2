import { fieldTypeOf, type Field, type Stored } from '@rigid-rule/core';
import { shownInstant } from '$lib/instants.ts';
import { organisation } from '$lib/organisation.svelte.ts';

/** Names of the records and users that values refer to: by record type, then by id. */
export type Titles = Readonly<Record<string, Readonly<Record<string, string>>>>;

/** A stored value as a person reads it; an empty text for blank. */
export function shownValue(field: Field, stored: Stored | undefined, titles: Titles = {}): string {
  if (stored === undefined || stored === null) return '';
  const known = titles[field.recordType ?? field.type];
  if (known && typeof stored === 'string' && known[stored] !== undefined) return known[stored];
  const { instant, format } = fieldTypeOf(field);
  if (instant && typeof stored === 'string') return shownInstant(stored, organisation.zone);
  return format(stored, field);
}

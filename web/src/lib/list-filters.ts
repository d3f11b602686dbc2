/**
 * Filters of a record list, as its address carries them: `only.stage=won,` (options, yes/no, users; an empty one is
 * blank), `from.amount=100`, `to.amount=900` (numbers, days and durations, both included), `has.name=fen` (texts, and names of
 * linked records), `is.amount=blank` or `filled`.
 */
import type { Field, RecordType } from '@rigid-rule/core/document';
import { fieldTypeOf, type FieldTypeKey } from '@rigid-rule/core/language';

export interface ListFilter {
  readonly field: Field;
  readonly only?: readonly string[];
  /** Numbers, or days or durations in ISO 8601. */
  readonly from?: string;
  readonly to?: string;
  readonly has?: string;
  readonly is?: 'blank' | 'filled';
}

export type FilterKind = 'choice' | 'range' | 'text';

export function filterKind(field: Field): FilterKind {
  const type = fieldTypeOf(field);
  if (type.chooses || type.choices || type.users) return 'choice';
  return type.bounds ? 'range' : 'text';
}

/** The field as its bounds are typed and shown: those of an instant are days. */
export const boundsOf = (field: Field): Field =>
  fieldTypeOf(field).instant ? { ...field, type: 'date' satisfies FieldTypeKey } : field;

interface Listed {
  readonly key: string;
  readonly name: string;
}

/** What a filter of a choice offers, *blank* aside. */
export function filterChoices(field: Field, users: readonly { email: string; name: string }[]): readonly Listed[] {
  const type = fieldTypeOf(field);
  return type.users ? users.map((u) => ({ key: u.email, name: u.name })) : (type.choices ?? field.options ?? []);
}

const longest = 2_000;
const memberOf = (name: string): 'only' | 'from' | 'to' | 'has' | 'is' | undefined =>
  (['only', 'from', 'to', 'has', 'is'] as const).find((m) => m === name);

/** One parameter of an address as a filter; undefined: it is none. `unread`: this record type has nothing that it fits. */
function readFilter(type: RecordType, name: string, raw: string): ListFilter | 'unread' | undefined {
  const [member = '', ...rest] = name.split('.');
  const said = memberOf(member);
  const text = raw.slice(0, longest);
  if (!said || rest.length === 0) return undefined;
  // A choice of nothing else is one: blank.
  if (text.trim() === '' && said !== 'only') return undefined;
  const field = type.fields.find((f) => f.key === rest.join('.'));
  if (!field) return 'unread';
  const kind = filterKind(field);
  if (said === 'is') return text === 'blank' || text === 'filled' ? { field, is: text } : 'unread';
  if (said === 'only') return kind === 'choice' ? { field, only: text.split(',') } : 'unread';
  if (said === 'has') return kind === 'text' ? { field, has: text.trim() } : 'unread';
  return fieldTypeOf(field).bounds?.accepts(text) ? { field, [said]: text } : 'unread';
}

/** What an address asks for, a filter for each field. */
export function readFilters(type: RecordType, params: URLSearchParams): ListFilter[] {
  const found = new Map<string, ListFilter>();
  for (const [name, raw] of params) {
    const filter = readFilter(type, name, raw);
    if (filter && filter !== 'unread') found.set(filter.field.key, { ...found.get(filter.field.key), ...filter });
  }
  return [...found.values()];
}

/**
 * Parameters that ask for a filter that there is not: of a field that is gone, or is of another type now. A list without
 * them holds more than was asked for, and says so.
 */
export const unreadFilters = (type: RecordType, params: URLSearchParams): string[] => [
  ...new Set([...params].flatMap(([name, raw]) => (readFilter(type, name, raw) === 'unread' ? [name] : []))),
];

/** The parameters of one field's filter, those to be taken out undefined. */
export function filterParams(filter: ListFilter): Record<string, string | undefined> {
  const { key } = filter.field;
  return {
    [`only.${key}`]: filter.only && filter.only.length > 0 ? filter.only.join(',') : undefined,
    [`from.${key}`]: filter.from,
    [`to.${key}`]: filter.to,
    [`has.${key}`]: filter.has,
    [`is.${key}`]: filter.is,
  };
}

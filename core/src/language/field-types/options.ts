import { listOf, type Type } from '../types/types.ts';
import { nearestName } from '../../diagnostics/nearest.ts';
import { quoteText } from '../types/text-literal.ts';
import type { Field, Option, Stored } from '../../document/document.ts';
import { compareText, type Value } from '../../values/value.ts';
import type { Coerced, FieldType, UsualStart } from './field-type.ts';
import type { OptionNames } from '../types/types.ts';
import { onceEach } from '../../values/once-each.ts';

interface OptionIndex extends OptionNames {
  readonly byKey: ReadonlyMap<string, Option>;
  readonly byName: ReadonlyMap<string, Option>;
  readonly rank: ReadonlyMap<string, number>;
}

const indexOf = onceEach((field: Field): OptionIndex => {
  const options = field.options ?? [];
  return {
    field: field.name,
    names: options.map((o) => o.name),
    order: field.ordered ? new Map(options.flatMap((o, i) => (o.outside ? [] : [[o.name, i] as const]))) : null,
    byKey: new Map(options.map((o) => [o.key, o])),
    byName: new Map(options.map((o) => [o.name, o])),
    rank: new Map(options.map((o, i) => [o.key, i])),
  };
});

/** An option by key or by name; undefined when there is none. */
export function findOption(field: Field, input: string): Option | undefined {
  const index = indexOf(field);
  return index.byKey.get(input) ?? index.byName.get(input);
}

function unknownOption(field: Field, input: string): string {
  const near = nearestName(input, indexOf(field).names);
  return `is not an option of ${field.name}${near ? `; did you mean ${near}` : ''}`;
}

/** The options of a field as types know them: one object for each field object. */
export const optionNames = (field: Field): OptionNames => indexOf(field);

const optionType = (field: Field): Type => ({ kind: 'option', options: indexOf(field) });
const nameOf = (stored: Stored, field: Field): string =>
  typeof stored === 'string' ? (indexOf(field).byKey.get(stored)?.name ?? stored) : '';

const optionStarts = ({ options = [] }: Field): UsualStart[] =>
  options.map(({ name }) => ({ name, formula: quoteText(name) }));

export const picklist: FieldType<'picklist'> = {
  key: 'picklist',
  name: 'picklist',
  example: 'A b',
  chooses: 'one',
  titles: true,
  column: 'text',
  usualStarts: optionStarts,
  sql: { json: 'string', as: 'text' },
  starting: null,
  typeOf: optionType,
  read: (stored, field) => (typeof stored === 'string' ? nameOf(stored, field) : null),
  coerce(value, field): Coerced {
    if (value === null || value === undefined || value === '') return { value: null };
    if (typeof value !== 'string') return { problem: unknownOption(field, String(value)) };
    const option = findOption(field, value);
    return option ? { value: option.key } : { problem: unknownOption(field, value) };
  },
  parse: (text) => (text.trim() === '' ? null : text.trim()),
  format: nameOf,
  compare(a, b, field) {
    const { rank } = indexOf(field);
    return (rank.get(String(a)) ?? Infinity) - (rank.get(String(b)) ?? Infinity) || compareText(String(a), String(b));
  },
  boundaryValues: (field) => (field.options ?? []).map((o) => o.key),
};

/** Stored as option keys in the order of the options, so that equal sets have one form. */
export const multiSelect: FieldType<'multi-select'> = {
  key: 'multi-select',
  name: 'multi-select',
  example: ['C', 'A b'],
  chooses: 'many',
  column: 'text',
  usualStarts: optionStarts,
  sql: { json: 'array', as: 'text' },
  starting: null,
  typeOf: (field) => listOf(optionType(field)),
  read: (stored, field): Value => (Array.isArray(stored) ? stored.map((k: string) => nameOf(k, field)) : []),
  coerce(value, field): Coerced {
    if (value === null || value === undefined || value === '') return { value: null };
    const input = Array.isArray(value) ? (value as unknown[]) : [value];
    const keys = new Set<string>();
    for (const item of input) {
      const option = typeof item === 'string' ? findOption(field, item) : undefined;
      if (!option) return { problem: unknownOption(field, String(item)) };
      keys.add(option.key);
    }
    const { rank } = indexOf(field);
    return { value: keys.size === 0 ? null : [...keys].sort((a, b) => rank.get(a)! - rank.get(b)!) };
  },
  parse: (text) =>
    text
      .split(/[;,]/)
      .map((t) => t.trim())
      .filter(Boolean),
  format: (stored, field) => (Array.isArray(stored) ? stored.map((k: string) => nameOf(k, field)).join(', ') : ''),
  /** By the first option in which they differ, in the order of the field; what goes on further comes later. */
  compare(a, b, field) {
    const [one, two] = [a, b].map((v) => (Array.isArray(v) ? (v as readonly string[]) : [])) as [
      readonly string[],
      readonly string[],
    ];
    const at = one.findIndex((key, i) => key !== two[i]);
    if (at < 0) return one.length - two.length;
    return two[at] === undefined ? 1 : picklist.compare(one[at]!, two[at], field);
  },
  boundaryValues({ options = [] }) {
    const keys = options.map((o) => o.key);
    return [...keys.map((k) => [k]), ...(keys.length > 1 ? [keys] : [])];
  },
};

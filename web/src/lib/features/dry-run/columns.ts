/** Columns of a file matched with fields: as they were the last time, by name, by what they hold; and what does not fit. */
import type { Field, RecordData, RecordType, Stored } from '@rigid-rule/core/document';
import { fieldTypeOf } from '@rigid-rule/core/language';
import { ownSentences } from '$lib/organisation.svelte.ts';
import type { Written } from '$lib/written-lines.ts';

export interface ColumnMatch {
  readonly heading: string;
  /** Key of the field; undefined: left out. */
  readonly field: string | undefined;
  readonly because: 'as before' | 'name' | 'content' | 'nothing like it';
}

const folded = (text: string): string =>
  text
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim();

/** Rows looked at to tell what a column holds. */
const looked = 50;

/** What a field type takes of a text, as numbers and days of a file are written. */
export type CellReader = (field: Field, text: string) => unknown;

/** A point in numbers, ISO 8601 days: as programs write them. */
export const neutrally: CellReader = (field, text) => fieldTypeOf(field).parse(text, field);

/** The stored value of a cell; a problem where it is none of the field. */
export function cellValue(
  field: Field,
  text: string,
  read: CellReader,
): { readonly value: Stored } | { readonly problem: string } {
  if (text.trim() === '') return { value: null };
  const coerced = fieldTypeOf(field).coerce(read(field, text.trim()), field, ownSentences);
  return 'value' in coerced ? coerced : { problem: `${text} ${coerced.problem}` };
}

/** Cells of which it matters how they are written, read both ways. */
export function* bothWays(
  rows: readonly (readonly string[])[],
  columns: readonly ColumnMatch[],
  type: RecordType,
  own: CellReader,
): Iterable<Readonly<Record<Written, ReturnType<typeof cellValue>>>> {
  for (const [c, { field: key }] of columns.entries()) {
    const field = type.fields.find((f) => f.key === key);
    if (!field || !fieldTypeOf(field).written) continue;
    for (const { [c]: text = '' } of rows)
      yield { neutral: cellValue(field, text, neutrally), own: cellValue(field, text, own) };
  }
}

export function matchColumns(
  header: readonly string[],
  rows: readonly (readonly string[])[],
  type: RecordType,
  remembered: Readonly<Record<string, string>> = {},
  readers: readonly CellReader[] = [neutrally],
): readonly ColumnMatch[] {
  const taken = new Set<string>();
  const take = (field: Field, heading: string, because: ColumnMatch['because']): ColumnMatch => {
    taken.add(field.key);
    return { heading, field: field.key, because };
  };
  const found = header.map((heading): ColumnMatch | undefined => {
    const before = type.fields.find((f) => f.key === remembered[heading]);
    if (before && !taken.has(before.key)) return take(before, heading, 'as before');
    const named = type.fields.find(
      (f) => !taken.has(f.key) && [f.name, f.label ?? '', f.key].some((n) => n !== '' && folded(n) === folded(heading)),
    );
    return named && take(named, heading, 'name');
  });
  return found.map((match, c): ColumnMatch => {
    if (match) return match;
    const heading = header[c]!;
    const values = rows
      .slice(0, looked)
      .map((r) => r[c] ?? '')
      .filter((v) => v.trim() !== '');
    const fits = type.fields.filter((f) => {
      const kind = fieldTypeOf(f);
      // Anything fits a text: only what few values are is a hint.
      if (taken.has(f.key) || kind.free || kind.links || kind.users || values.length === 0) return false;
      return readers.some((r) => values.filter((v) => 'value' in cellValue(f, v, r)).length >= values.length * 0.9);
    });
    const chosen = fits.filter((f) => fieldTypeOf(f).chooses);
    const [only] = chosen.length > 0 ? chosen : fits;
    return only && (chosen.length === 1 || fits.length === 1)
      ? take(only, heading, 'content')
      : { heading, field: undefined, because: 'nothing like it' };
  });
}

export interface ReadRecords {
  readonly records: readonly { readonly id: number; readonly data: RecordData }[];
  /** By column: how many values are none of its field, and the first of them. */
  readonly misfits: readonly { readonly count: number; readonly first: string | undefined; readonly row: number }[];
}

/** Records of the rows; what does not fit is left blank and counted. Links are by id, or by the title of what they mean. */
export function readRecords(
  rows: readonly (readonly string[])[],
  columns: readonly ColumnMatch[],
  type: RecordType,
  cellReader: CellReader,
  idOfTitle: (recordType: string, title: string) => string | undefined = () => undefined,
): ReadRecords {
  const fields = columns.map((c) => type.fields.find((f) => f.key === c.field));
  const misfits = columns.map(() => ({ count: 0, first: undefined as string | undefined, row: 0 }));
  const records = rows.map((row, i) => {
    const data: Record<string, Stored> = {};
    fields.forEach((field, c) => {
      const text = row[c] ?? '';
      if (!field || text.trim() === '') return;
      const linked = field.recordType;
      const value = linked ? (idOfTitle(linked, text) ?? text) : text;
      const read = cellValue(field, value, cellReader);
      if ('value' in read) data[field.key] = read.value;
      else {
        const own = misfits[c]!;
        if (own.count++ === 0) [own.first, own.row] = [read.problem, i + 1];
      }
    });
    return { id: i + 1, data };
  });
  return { records, misfits };
}

/** The business's own list, pasted or read from a file, as one family: what comes in and what should come out. */
import type { Field, RecordType, Stored, TestFamily } from '@rigid-rule/core/document';
import { fieldTypeOf } from '@rigid-rule/core/language';
import { ownSentences } from '$lib/organisation.svelte.ts';

export interface PastedColumn {
  readonly heading: string;
  /** Key of the field; undefined: left out. */
  readonly field: string | undefined;
}

export interface PastedList {
  readonly columns: readonly PastedColumn[];
  readonly rows: readonly (readonly string[])[];
}

const folded = (text: string): string => text.trim().toLowerCase().replace(/\s+/g, ' ');

/** Columns by the name, label or key of a field; the first row is the heading where it names one at least. */
export function readList(cells: readonly (readonly string[])[], type: RecordType): PastedList {
  const rows = cells.filter((r) => r.some((c) => c.trim() !== ''));
  const [first = []] = rows;
  const named = (text: string): Field | undefined =>
    type.fields.find((f) => [f.name, f.label ?? '', f.key].some((n) => n !== '' && folded(n) === folded(text)));
  const headed = first.some((c) => named(c));
  return {
    columns: first.map((c, i) => ({
      heading: headed ? c : `column ${i + 1}`,
      field: headed ? named(c)?.key : undefined,
    })),
    rows: headed ? rows.slice(1) : rows,
  };
}

export interface CellProblem {
  readonly row: number;
  readonly column: number;
  readonly problem: string;
}

/** The family that a list makes; `expected`: keys of the fields that come out, the others go in. */
export function familyOf(
  { columns, rows }: PastedList,
  type: RecordType,
  expected: ReadonlySet<string>,
  parse: (field: Field, text: string) => unknown,
): { readonly cases: NonNullable<TestFamily['cases']>; readonly problems: readonly CellProblem[] } {
  const taken = columns.flatMap((c, column) => {
    const field = type.fields.find((f) => f.key === c.field);
    return field ? [{ field, column }] : [];
  });
  const ordered = [
    ...taken.filter((t) => !expected.has(t.field.key)),
    ...taken.filter((t) => expected.has(t.field.key)),
  ];
  const problems: CellProblem[] = [];
  const values = rows.map((row, r) =>
    ordered.map(({ field, column }): Stored => {
      const text = (row[column] ?? '').trim();
      if (text === '') return null;
      const coerced = fieldTypeOf(field).coerce(parse(field, text), field, ownSentences);
      if ('value' in coerced) return coerced.value;
      problems.push({ row: r, column, problem: `${text} ${coerced.problem}` });
      return null;
    }),
  );
  return {
    cases: {
      sent: ordered.filter((t) => !expected.has(t.field.key)).map((t) => t.field.key),
      expected: ordered.filter((t) => expected.has(t.field.key)).map((t) => t.field.key),
      rows: values,
    },
    problems,
  };
}

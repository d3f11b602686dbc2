/** Mapping tables to begin with: empty, or made of what was pasted, its columns bound to the fields they are called by. */
import { isFieldName, type MappingTable, type RecordType, type TableColumn } from '@rigid-rule/core/document';

export const beginTable = (key: string, name: string): MappingTable => ({
  key,
  name,
  purpose: '',
  hitPolicy: 'unique',
  keys: [{ key: 'key', name: 'Key' }],
  outputs: [{ key: 'value', name: 'Value' }],
  rows: [],
});

/** Nobody has made anything of the table yet: what is pasted into it may say its columns. */
export const isUntouched = ({ rows, keys, outputs }: MappingTable): boolean =>
  rows.length === 0 && keys.length === 1 && outputs.length === 1 && !keys[0]!.field && keys[0]!.name === 'Key';

export function columnKey(name: string, taken: Iterable<string>): string {
  const used = new Set(taken);
  const base =
    name
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '_')
      .replace(/^_+|_+$/g, '') || 'column';
  for (let n = 1; ; n++) {
    const key = n === 1 ? base : `${base}_${n}`;
    if (!used.has(key)) return key;
  }
}

/** A heading as a name that formulas can say. */
export function columnName(heading: string, taken: ReadonlySet<string>): string {
  const clean =
    heading
      .replace(/[^\p{L}\p{M}\p{N}]+/gu, ' ')
      .trim()
      .replace(/^(?=\p{N})/u, 'No ') || 'Column';
  const base = isFieldName(clean) ? clean : `${clean} column`;
  for (let n = 1; ; n++) {
    const name = n === 1 ? base : `${base} ${n}`;
    if (!taken.has(name)) return name;
  }
}

/** Columns by headings: the first is the key. A heading that names a field of the most likely record type is bound to it. */
export function columnsFrom(headings: readonly string[], recordTypes: readonly RecordType[]): TableColumn[] {
  const fieldIn = (type: RecordType, heading: string) =>
    type.fields.find((f) => f.name.toLowerCase() === heading.trim().toLowerCase());
  const scored = recordTypes.map((type) => ({ type, hits: headings.filter((h) => fieldIn(type, h)).length }));
  const best = scored.reduce((a, b) => (b.hits > a.hits ? b : a), scored[0]!);
  const columns: TableColumn[] = [];
  for (const heading of headings) {
    const field = best.hits > 0 ? fieldIn(best.type, heading) : undefined;
    const name = columnName(heading, new Set(columns.map((c) => c.name)));
    columns.push({
      key: columnKey(
        name,
        columns.map((c) => c.key),
      ),
      name,
      ...(field ? { field: `${best.type.key}.${field.key}` } : {}),
    });
  }
  return columns;
}

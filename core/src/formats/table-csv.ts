/** Mapping tables as CSV (RFC 4180), and what reading one would change, row by row. */
import Papa from 'papaparse';
import { compileTable } from '../mapping/table.ts';
import { columnField } from '../expression/shapes.ts';
import { canonicalJson } from '../rulebook/canonical.ts';
import type { Cell, MappingTable, Rulebook, TableColumn } from '../rulebook/document.ts';
import { foldedKey } from '../values/unicode-case.ts';
import { cellFromSheet, cellToSheet } from './cell-text.ts';

type Row = MappingTable['rows'][number];
type Book = Pick<Rulebook, 'recordTypes'>;

export function tableToCsv(table: MappingTable): string {
  const columns = [...table.keys, ...table.outputs];
  const rows = table.rows.map((row) => columns.map((c) => cellToSheet(row[c.key], c)));
  return `${Papa.unparse([columns.map((c) => c.name), ...rows], { newline: '\r\n' })}\r\n`;
}

export interface RowPlan {
  readonly what: 'added' | 'changed' | 'same' | 'dropped' | 'refused';
  /** Line of the file, from 1; absent for rows that only the table has. */
  readonly line?: number;
  readonly row: Row;
  readonly before?: Row;
  /** Why a row is refused. */
  readonly reasons: readonly string[];
}

export interface ImportPlan {
  readonly plans: readonly RowPlan[];
  /** Columns of the file that the table has not. */
  readonly strangers: readonly string[];
  /** The table as it would be: refused rows left out. */
  readonly table: MappingTable;
}

function typeOf(column: TableColumn, book: Book): NonNullable<TableColumn['type']> {
  const field = columnField(column, book);
  if (!field) return column.type ?? 'text';
  if (['number', 'money', 'percent'].includes(field.type)) return 'number';
  return field.type === 'date' || field.type === 'yes/no' ? field.type : 'text';
}

/** Rows of cells (the first: column names) read into a table. Each row says what becomes of it. */
export function planImport(table: MappingTable, book: Book, lines: readonly (readonly string[])[]): ImportPlan {
  const [header = [], ...body] = lines;
  const columns = [...table.keys, ...table.outputs];
  const places = header.map((name) =>
    columns.findIndex((c) => foldedKey(c.name) === foldedKey(name) || c.key === name.trim()),
  );
  const strangers = header.filter((_, i) => places[i]! < 0 && header[i]!.trim() !== '');
  const missing = columns.filter((_, i) => !places.includes(i));
  const keyOf = (row: Row): string => canonicalJson(table.keys.map((c) => row[c.key] ?? null));
  const old = new Map(table.rows.map((row) => [keyOf(row), row]));
  const seen = new Map<string, number>();
  const plans = body.map((cells, i): RowPlan => {
    const line = i + 2;
    const reasons: string[] = missing
      .filter((c) => table.keys.includes(c))
      .map((c) => `The column ${c.name} is missing.`);
    const row: Record<string, Cell> = {};
    cells.forEach((text, at) => {
      const column = columns[places[at] ?? -1];
      if (!column) return;
      const isKey = table.keys.includes(column);
      const read = cellFromSheet(text, typeOf(column, book), isKey, columnField(column, book)?.type === 'multi-select');
      if ('problem' in read) reasons.push(`${column.name}: ${read.problem}.`);
      else if (read.cell !== null) row[column.key] = read.cell;
    });
    const before = old.get(keyOf(row));
    // Columns that the file lacks keep what the table has.
    for (const c of missing) if (before?.[c.key] !== undefined) row[c.key] = before[c.key]!;
    reasons.push(
      ...compileTable({ ...table, rows: [row] }, book)
        .diagnostics.filter((d) => d.path?.startsWith('/rows/'))
        .map((d) => d.message),
    );
    const twice = seen.get(keyOf(row));
    if (twice !== undefined && table.hitPolicy === 'unique') reasons.push(`The same key stands in line ${twice}.`);
    else seen.set(keyOf(row), line);
    const known = before ? { before } : {};
    if (reasons.length > 0) return { what: 'refused', line, row, reasons, ...known };
    if (!before) return { what: 'added', line, row, reasons };
    return { what: canonicalJson(before) === canonicalJson(row) ? 'same' : 'changed', line, row, before, reasons };
  });
  const kept = new Set(plans.map((p) => keyOf(p.row)));
  const dropped = table.rows
    .filter((row) => !kept.has(keyOf(row)))
    .map((row): RowPlan => ({ what: 'dropped', row, reasons: [] }));
  const rows = plans.filter((p) => p.what !== 'refused').map((p) => p.row);
  return { plans: [...plans, ...dropped], strangers, table: { ...table, rows } };
}

/** Lines of a CSV file as cells; a byte order mark and a last empty line are no content. */
export function readCsv(text: string): {
  readonly lines: readonly (readonly string[])[];
  readonly problems: readonly string[];
} {
  const { data, errors } = Papa.parse<string[]>(text.replace(/^\ufeff/, ''), { skipEmptyLines: 'greedy' });
  const problems = errors.filter((e) => e.type !== 'Delimiter').map((e) => `Line ${(e.row ?? 0) + 1}: ${e.message}.`);
  return { lines: data, problems };
}

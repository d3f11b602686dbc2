/** Mapping tables as CSV (RFC 4180), and what reading one would change, row by row. */
import Papa from 'papaparse';
import { nearestName } from '../diagnostics/nearest.ts';
import { compileTable } from '../mapping/table.ts';
import { columnField } from '../expression/shapes.ts';
import { canonicalJson } from '../rulebook/canonical.ts';
import type { Cell, MappingTable, Rulebook, TableColumn } from '../rulebook/document.ts';
import { foldedKey } from '../values/unicode-case.ts';
import { cellFromSheet, cellToSheet, type ReadText } from './cell-text.ts';

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
  /** Misspelt options of a refused row, each with the likely one. */
  readonly corrections?: readonly Correction[];
}

export interface Correction {
  /** Key of the column. */
  readonly column: string;
  readonly from: string;
  readonly to: string;
}

/** What becomes of rows that the lines do not name: a file stands for the whole table, a paste adds to it. */
export type RestOfRows = 'drop' | 'keep';

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

/** What stands in a cell of a spreadsheet, as a cell of a column. */
export function readSheetCell(text: string, column: TableColumn, table: MappingTable, book: Book): ReadText {
  const multiple = columnField(column, book)?.type === 'multi-select';
  return cellFromSheet(text, typeOf(column, book), table.keys.includes(column), multiple);
}

/** The column that a heading of a spreadsheet names. */
export const columnOfHeading = (table: MappingTable, heading: string): TableColumn | undefined =>
  [...table.keys, ...table.outputs].find((c) => foldedKey(c.name) === foldedKey(heading) || c.key === heading.trim());

function correctionsOf(row: Row, columns: readonly TableColumn[], book: Book): Correction[] {
  return columns.flatMap((column) => {
    const options = columnField(column, book)?.options?.map((o) => o.name);
    const cell = row[column.key];
    if (!options || cell === undefined) return [];
    const values = (Array.isArray(cell) ? (cell as readonly unknown[]) : [cell]).filter((v) => typeof v === 'string');
    return values.flatMap((from) => {
      const to = options.includes(from) ? undefined : nearestName(from, options);
      return to === undefined ? [] : [{ column: column.key, from, to }];
    });
  });
}

/** Rows of cells (the first: column names) read into a table. Each row says what becomes of it. */
export function planImport(
  table: MappingTable,
  book: Book,
  lines: readonly (readonly string[])[],
  rest: RestOfRows = 'drop',
): ImportPlan {
  const [header = [], ...body] = lines;
  const columns = [...table.keys, ...table.outputs];
  const places = header.map((name) => columns.indexOf(columnOfHeading(table, name)!));
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
      const read = readSheetCell(text, column, table, book);
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
    if (reasons.length > 0)
      return { what: 'refused', line, row, reasons, corrections: correctionsOf(row, columns, book), ...known };
    if (!before) return { what: 'added', line, row, reasons };
    return { what: canonicalJson(before) === canonicalJson(row) ? 'same' : 'changed', line, row, before, reasons };
  });
  const taken = plans.filter((p) => p.what !== 'refused');
  if (rest === 'keep') {
    const changed = new Map(taken.filter((p) => p.before).map((p) => [p.before, p.row]));
    const rows = table.rows.map((row) => changed.get(row) ?? row);
    const added = taken.filter((p) => !p.before).map((p) => p.row);
    return { plans, strangers, table: { ...table, rows: [...rows, ...added] } };
  }
  const kept = new Set(plans.map((p) => keyOf(p.row)));
  const dropped = table.rows
    .filter((row) => !kept.has(keyOf(row)))
    .map((row): RowPlan => ({ what: 'dropped', row, reasons: [] }));
  const rows = taken.map((p) => p.row);
  return { plans: [...plans, ...dropped], strangers, table: { ...table, rows } };
}

/** Lines of a CSV file as cells; a byte order mark and empty lines are no content. The delimiter is found where none is given. */
export function readCsv(
  text: string,
  delimiter = '',
): {
  readonly lines: readonly (readonly string[])[];
  readonly problems: readonly string[];
} {
  const { data, errors } = Papa.parse<string[]>(text.replace(/^\ufeff/, ''), { skipEmptyLines: 'greedy', delimiter });
  const problems = errors.filter((e) => e.type !== 'Delimiter').map((e) => `Line ${(e.row ?? 0) + 1}: ${e.message}.`);
  return { lines: data, problems };
}

/** Mapping tables as CSV (RFC 4180), and what reading one would change, row by row. */
import { fieldTypeOf } from '../language/field-types/index.ts';
import Papa from 'papaparse';
import { nearestName } from '../diagnostics/nearest.ts';
import { compileRows } from '../compile/mapping/table.ts';
import { columnField } from '../language/expression/shapes.ts';
import { canonicalJson, sameJson } from '../document/canonical.ts';
import type {
  Cell,
  CellValue,
  MappingTable,
  Rulebook,
  TableColumn,
  ColumnTypeKey,
  Field,
} from '../document/document.ts';
import { foldedKey } from '../values/unicode-case.ts';
import { cellFromSheet, cellToSheet, type ReadText, type SheetColumn } from './cell-text.ts';

type Row = MappingTable['rows'][number];
type Book = Pick<Rulebook, 'recordTypes'>;

/** The lines of a spreadsheet, the names of the columns first. A row without any content says so by a hyphen in its first key. */
export function tableToLines(table: MappingTable, book: Book): string[][] {
  const columns = [...table.keys, ...table.outputs];
  const sheets = columns.map((c) => sheetColumn(c, table, book));
  const rows = table.rows.map((row) => {
    const cells = sheets.map((s) => cellToSheet(row[s.column.key], s));
    return cells.every((c) => c === '') && table.keys.length > 0 ? ['-', ...cells.slice(1)] : cells;
  });
  return [columns.map((c) => c.name), ...rows];
}

export const tableToCsv = (table: MappingTable, book: Book): string =>
  `${Papa.unparse(tableToLines(table, book), { newline: '\r\n' })}\r\n`;

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
  /** Why no line can be taken: columns that the file lacks, or has twice. The table stays as it is then. */
  readonly heading: readonly string[];
  /** Columns of the file that the table has not. */
  readonly strangers: readonly string[];
  /** The table as it would be: refused rows left out. */
  readonly table: MappingTable;
}

function typeOf(column: TableColumn, book: Book): ColumnTypeKey {
  const field = columnField(column, book);
  if (!field) return column.type ?? 'text';
  return fieldTypeOf(field).column;
}

const isList = (field: Field | undefined): boolean => field !== undefined && fieldTypeOf(field).chooses === 'many';

export const sheetColumn = (column: TableColumn, table: MappingTable, book: Book): SheetColumn => ({
  column,
  type: typeOf(column, book),
  isKey: table.keys.includes(column),
  isList: isList(columnField(column, book)),
});

/** What stands in a cell of a spreadsheet, as a cell of a column. */
export const readSheetCell = (text: string, column: TableColumn, table: MappingTable, book: Book): ReadText =>
  cellFromSheet(text, sheetColumn(column, table, book));

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

/** A row without its empty cells: what two rows that say the same have in common. */
const filled = (row: Row): Row =>
  Object.fromEntries(Object.entries(row).filter(([, cell]) => cell !== null && cell !== undefined && cell !== ''));

/**
 * Rows of cells (the first: column names) read into a table. Each row says what becomes of it; one that is refused leaves
 * the row that it would have changed as it was. `numbers`: where each line stands in the file, counted from 1.
 */
export function planImport(
  table: MappingTable,
  book: Book,
  lines: readonly (readonly string[])[],
  rest: RestOfRows = 'drop',
  numbers?: readonly number[],
): ImportPlan {
  const [header = [], ...body] = lines;
  const columns = [...table.keys, ...table.outputs];
  const places = header.map((name) => columns.indexOf(columnOfHeading(table, name)!));
  const strangers = header.filter((_, i) => places[i]! < 0 && header[i]!.trim() !== '');
  const missing = columns.filter((_, i) => !places.includes(i));
  const ofHeader = [
    ...missing.filter((c) => table.keys.includes(c)).map((c) => `The column ${c.name} is missing.`),
    ...columns
      .filter((_, i) => places.indexOf(i) !== places.lastIndexOf(i))
      .map((c) => `The column ${c.name} stands twice.`),
  ];
  const keyOf = (row: Row): string =>
    canonicalJson(table.keys.map((c) => (row[c.key] === '' ? null : (row[c.key] ?? null))));
  const old = new FormerRows(table.rows, keyOf);
  const seen = new Map<string, number>();
  const plans = body.map((cells, i): RowPlan => {
    const line = numbers?.[i + 1] ?? i + 2;
    const reasons = [...ofHeader];
    const row: Record<string, Cell> = {};
    cells.forEach((text, at) => {
      const column = columns[places[at] ?? -1];
      if (!column) return;
      const read = readSheetCell(text, column, table, book);
      if ('problem' in read) reasons.push(`${column.name}: ${read.problem}.`);
      else if (read.cell !== null) row[column.key] = read.cell;
    });
    const corrections = correctionsOf(row, columns, book);
    const before = old.take(row) ?? old.take(corrected(row, corrections));
    // Columns that the file lacks keep what the table has.
    for (const c of missing) if (before?.[c.key] !== undefined) row[c.key] = before[c.key]!;
    reasons.push(
      ...compileRows(table, [row], book)
        .diagnostics.filter((d) => d.path?.startsWith('/rows/'))
        .map((d) => d.message),
    );
    const twice = seen.get(keyOf(row));
    if (twice !== undefined && table.hitPolicy === 'unique') reasons.push(`The same key stands in line ${twice}.`);
    else seen.set(keyOf(row), line);
    const known = before ? { before } : {};
    if (reasons.length > 0) return { what: 'refused', line, row, reasons, corrections, ...known };
    if (!before) return { what: 'added', line, row, reasons };
    const same = sameJson(filled(before), filled(row));
    return { what: same ? 'same' : 'changed', line, row, before, reasons };
  });
  if (rest === 'keep' || ofHeader.length > 0) {
    const now = new Map(plans.filter((p) => p.what !== 'refused' && p.before).map((p) => [p.before, p.row]));
    const rows = table.rows.map((row) => now.get(row) ?? row);
    const added = plans.filter((p) => p.what === 'added').map((p) => p.row);
    return { plans, heading: ofHeader, strangers, table: { ...table, rows: [...rows, ...added] } };
  }
  const dropped = old.rest().map((row): RowPlan => ({ what: 'dropped', row, reasons: [] }));
  const rows = plans.flatMap((p) => (p.what !== 'refused' ? [p.row] : p.before ? [p.before] : []));
  return { plans: [...plans, ...dropped], heading: [], strangers, table: { ...table, rows } };
}

/** Rows that a table has, each given once to the line that names it: the one that says the same before any other. */
class FormerRows {
  private readonly byKey = new Map<string, Row[]>();
  private readonly keyOf: (row: Row) => string;
  private readonly rows: readonly Row[];

  constructor(rows: readonly Row[], keyOf: (row: Row) => string) {
    this.keyOf = keyOf;
    this.rows = rows;
    for (const row of rows) {
      const key = keyOf(row);
      this.byKey.set(key, [...(this.byKey.get(key) ?? []), row]);
    }
  }

  take(row: Row): Row | undefined {
    const own = this.byKey.get(this.keyOf(row));
    if (!own || own.length === 0) return undefined;
    const wanted = canonicalJson(filled(row));
    const at = own.findIndex((r) => canonicalJson(filled(r)) === wanted);
    return own.splice(Math.max(at, 0), 1)[0];
  }

  rest(): Row[] {
    const left = new Set([...this.byKey.values()].flat());
    return this.rows.filter((row) => left.has(row));
  }
}

const corrected = (row: Row, corrections: readonly Correction[]): Row => {
  const put = (key: string, v: Cell): Cell =>
    Array.isArray(v)
      ? v.map((x: CellValue) => put(key, x) as CellValue)
      : (corrections.find((c) => c.column === key && c.from === v)?.to ?? v);
  return Object.fromEntries(Object.entries(row).map(([key, cell]) => [key, put(key, cell)]));
};

/**
 * Lines of a CSV file as cells; a byte order mark is no content, nor are empty lines, unless they are kept: then only what
 * ends the last line is none. Where no delimiter is given, the first line, which names the columns, shows it. `numbers`:
 * where each line begins in the file, counted from 1.
 */
export function readCsv(
  text: string,
  delimiter = '',
  emptyLines: 'left out' | 'kept' = 'left out',
): {
  readonly lines: readonly (readonly string[])[];
  readonly numbers: readonly number[];
  readonly problems: readonly string[];
} {
  const content = text.replace(/^\ufeff/, '');
  const { data, errors } = Papa.parse<string[]>(content, {
    ...separatorsOf(content),
    ...(delimiter ? { delimiter } : {}),
  });
  const numbers: number[] = [];
  let line = 1;
  for (const row of data) {
    numbers.push(line);
    line += 1 + row.reduce((sum, cell) => sum + (cell.match(/\r\n|\r|\n/g)?.length ?? 0), 0);
  }
  const problems = errors
    .filter((e) => e.type !== 'Delimiter')
    .map((e) => `Line ${numbers[e.row ?? 0] ?? line}: ${e.message}.`);
  const isLine =
    emptyLines === 'kept'
      ? (row: readonly string[], i: number) => i < data.length - 1 || row.length > 1 || row[0] !== ''
      : (row: readonly string[]) => !isEmptyLine(row);
  const full = data.flatMap((row, i) => (isLine(row, i) ? [i] : []));
  return { lines: full.map((i) => data[i]!), numbers: full.map((i) => numbers[i]!), problems };
}

export const isEmptyLine = (line: readonly string[]): boolean => line.every((cell) => cell.trim() === '');

type Newline = '\r\n' | '\n' | '\r';

/** The commonest of the usual delimiters in the first line that has any content, and what ends that line, or one before. */
export function separatorsOf(text: string): { readonly delimiter: string; readonly newline: Newline } {
  const [line = ''] = /(?:[^\r\n"]|"(?:[^"]|"")*")*/.exec(text.replace(/^[\r\n]+/, '')) ?? [];
  const plain = line.replace(/"(?:[^"]|"")*"/g, '');
  const count = (sign: string): number => plain.split(sign).length - 1;
  const delimiter = [',', ';', '\t'].reduce((best, sign) => (count(sign) > count(best) ? sign : best));
  const end = /\r\n|\r|\n/;
  const newline = (end.exec(text.slice(text.indexOf(line) + line.length)) ?? end.exec(text))?.[0] ?? '\r\n';
  return { delimiter, newline: newline as Newline };
}

/** A mapping table as a sheet: its columns side by side, its cells as texts, and which rows are in sight in which order. */
import type { Cell, MappingTable, Rulebook, TableColumn } from '@rigid-rule/core/document';
import { cellToSheet, readSheetCell, sheetColumn, type SheetColumn } from '@rigid-rule/core/formats';
import { columnTypeOf } from '@rigid-rule/core/language';
import type { Written } from '$lib/written-lines.ts';

export type Row = MappingTable['rows'][number];

/** What order the rows are shown in; `seen`: by how many samples meet them. */
export interface Sorting {
  readonly column: string;
  readonly descending: boolean;
}

/** How numbers are typed and shown in cells. */
export interface CellWriting {
  readonly number: (neutral: string) => string;
  readonly typedNumber: (text: string) => string;
}

const neutral: CellWriting = { number: (text) => text, typedNumber: (text) => text };

/** Texts of a table's cells, and cells of texts: numbers in the form of the organisation, ranges and formulas as such. */
export class SheetTexts {
  readonly columns: readonly TableColumn[];
  private readonly sheets: ReadonlyMap<string, SheetColumn>;

  constructor(
    readonly table: MappingTable,
    private readonly book: Rulebook,
    private readonly writing: CellWriting = neutral,
  ) {
    this.columns = [...table.keys, ...table.outputs];
    this.sheets = new Map(this.columns.map((c) => [c.key, sheetColumn(c, table, book)]));
  }

  /** A cell as a sheet writes it; empty where the column is not of this table. */
  show(row: Row | undefined, column: TableColumn): string {
    const sheet = this.sheets.get(column.key);
    if (!row || !sheet) return '';
    const cell = row[column.key];
    const text = cellToSheet(cell, sheet);
    if (typeof cell === 'number') return this.own(text);
    if (!isOfNumbers(sheet) || !Array.isArray(cell)) return text;
    return byItem(text, (item) => this.own(item)).trimEnd();
  }

  /** Very large and very small numbers stand with their exponent, the same everywhere. */
  private readonly own = (number: string): string => (/e/i.test(number) ? number : this.writing.number(number));

  /** What was typed or pasted, with the numbers of a column of numbers as files have them. */
  neutral(text: string, sheet: SheetColumn | undefined): string {
    return sheet && isOfNumbers(sheet) ? byItem(text, this.writing.typedNumber) : text;
  }

  /** Whether it matters how its cells are written. */
  isOfNumbers({ key }: TableColumn): boolean {
    const sheet = this.sheets.get(key);
    return sheet !== undefined && isOfNumbers(sheet);
  }

  /** A cell of a file, read as programs write numbers, and as the organisation does. */
  bothWays(text: string, column: TableColumn): Readonly<Record<Written, { value: Cell } | { problem: string }>> {
    const read = (t: string): { value: Cell } | { problem: string } => {
      const found = readSheetCell(t, column, this.table, this.book);
      return 'cell' in found ? { value: found.cell } : found;
    };
    return { neutral: read(text), own: read(this.neutral(text, this.sheets.get(column.key))) };
  }

  /** The lines of a file, with the numbers of its columns as programs write them. */
  neutralLine(line: readonly string[], columns: readonly (TableColumn | undefined)[]): readonly string[] {
    return line.map((text, i) => this.neutral(text, this.sheets.get(columns[i]?.key ?? '')));
  }

  /** What was typed or pasted into a cell; what its column cannot read stays as it is, and is marked as wrong. */
  read(text: string, column: TableColumn): Cell {
    const read = readSheetCell(this.neutral(text, this.sheets.get(column.key)), column, this.table, this.book);
    return 'cell' in read ? read.cell : text.trim();
  }
}

const isOfNumbers = ({ type }: SheetColumn): boolean => columnTypeOf(type).written === 'number';

/** A list in a cell, item by item. */
const byItem = (text: string, item: (text: string) => string): string =>
  text
    .split(';')
    .map((part) => (part.trim() === '' ? '' : item(part.trim())))
    .join('; ');

/** Indexes of the rows in sight, in the order in which they are shown. `hits`: samples that meet each row. */
export function rowsInSight(
  rows: readonly Row[],
  texts: SheetTexts,
  filter: string,
  sorting: Sorting | undefined,
  hits: readonly number[] = [],
): readonly number[] {
  const text = filter.trim().toLowerCase();
  const holds = (row: Row): boolean => texts.columns.some((c) => texts.show(row, c).toLowerCase().includes(text));
  const indexes = rows.flatMap((row, i) => (text === '' || holds(row) ? [i] : []));
  if (!sorting) return indexes;
  const sign = sorting.descending ? -1 : 1;
  const column = texts.columns.find((c) => c.key === sorting.column);
  if (column) return byCells(indexes, rows, column, texts, sign);
  if (sorting.column !== 'seen') return indexes;
  return indexes.sort((a, b) => ((hits[a] ?? 0) - (hits[b] ?? 0)) * sign || a - b);
}

/** Numbers by size, all else by text; equal ones as they stand. */
function byCells(
  indexes: readonly number[],
  rows: readonly Row[],
  column: TableColumn,
  texts: SheetTexts,
  sign: number,
): readonly number[] {
  const keyed = indexes.map((i) => ({ i, cell: rows[i]![column.key], text: texts.show(rows[i], column) }));
  const compared = (a: (typeof keyed)[number], b: (typeof keyed)[number]): number => {
    if (typeof a.cell === 'number' && typeof b.cell === 'number') return a.cell - b.cell;
    return a.text < b.text ? -1 : Number(a.text > b.text);
  };
  return keyed.sort((a, b) => compared(a, b) * sign || a.i - b.i).map((k) => k.i);
}

/**
 * Lines that were pasted or read from a file: where they go at once, and how others are tried out first. What is tried
 * out is nothing of the table's until it is taken.
 */
import type { MappingTable, Operation, RecordType, TableColumn } from '@rigid-rule/core/document';
import { columnOfHeading, isEmptyLine, sheetColumn, type ImportPlan, type RestOfRows } from '@rigid-rule/core/formats';
import type { Block } from './cell-choice.ts';
import { filledWith, type CellText, type Sheet } from './cell-edits.ts';
import { columnsFrom, isUntouched } from './new-table.ts';
import { rowOperations } from './row-operations.ts';
import type { Lines, SheetLines } from './sheet-files.ts';
import type { SheetTexts } from './sheet-view.ts';
import type { Written } from '$lib/written-lines.ts';

export interface ColumnPlan {
  readonly column: TableColumn;
  readonly isKey: boolean;
}

/** Lines that are tried out but not taken yet. */
export interface Preview extends SheetLines {
  /** How its numbers are written, where somebody said so. */
  readonly written?: Written;
  readonly from: string;
  readonly rest: RestOfRows;
  /** Columns of an untouched table, made of the first line: nothing of the table's own until the lines are taken. */
  readonly columns?: readonly ColumnPlan[];
  /** The others were taken: what is left are the lines that were refused. */
  readonly leftOver?: true;
}

/** Whether a line names columns: all of a table's own, or those that an untouched one takes from it. */
export const areHeadings = (line: readonly string[], table: MappingTable): boolean =>
  isUntouched(table) || nameColumns(line, table);

const nameColumns = (line: readonly string[], table: MappingTable): boolean =>
  line.every((heading) => columnOfHeading(table, heading));

const pastedFrom = 'a spreadsheet';

/** What pasting comes to: cells that are written at once, chosen after, or lines that are tried out first. */
export type Pasted = { readonly cells: readonly CellText[]; readonly block: Block } | { readonly preview: Preview };

/**
 * Lines with keys are tried out first, and say what they would add and change; a block of values goes where the choice
 * is, at once; into an untouched table the first line says the columns.
 */
export function pasted(
  lines: Lines,
  table: MappingTable,
  sheet: Sheet,
  block: Block,
  recordTypes: readonly RecordType[],
): Pasted | undefined {
  const [first] = lines;
  if (!first) return undefined;
  if (isUntouched(table) && lines.length > 1 && first.length > 1)
    return { preview: beginning(full(lines), table, recordTypes, sheet.texts) };
  const { texts } = sheet;
  const { columns } = texts;
  const tried = (headings: readonly string[], rows = lines): Pasted => {
    const found = headings.map((h) => columnOfHeading(table, h));
    const sheets = found.map((column) => column && sheetColumn(column, table, { recordTypes }));
    const neutral = full(rows).map((row) => row.map((text, i) => texts.neutral(text, sheets[i])));
    return { preview: { from: pastedFrom, lines: [headings, ...neutral], rest: 'keep' } };
  };
  if (lines.length > 1 && nameColumns(first, table)) return tried(first, lines.slice(1));
  const headings = (left: number): string[] => columns.slice(left, left + first.length).map((c) => c.name);
  if (block.left === 0 && first.length > table.keys.length) return tried(headings(0));
  // One value goes into every chosen cell.
  if (lines.length === 1 && first.length === 1) return { cells: filledWith(sheet, block, first[0]!), block };
  if (block.top + lines.length > sheet.view.length) return tried(headings(block.left));
  return inPlace(lines, sheet, block);
}

/** What is tried out has a row for each line: empty ones say nothing. */
const full = (lines: Lines): Lines => lines.filter((line) => !isEmptyLine(line));

function inPlace(lines: Lines, { view, texts }: Sheet, { top, left }: Block): Pasted {
  const cells = lines.flatMap((line, i) =>
    line.map((text, j): CellText => ({ row: view[top + i]!, column: left + j, text })),
  );
  const right = Math.min(left + lines[0]!.length, texts.columns.length) - 1;
  return { cells, block: { top, left, bottom: top + lines.length - 1, right } };
}

/** An untouched table takes its columns and rows from lines; which of them are keys can be changed first. */
function beginning(
  [headings, ...lines]: Lines,
  table: MappingTable,
  recordTypes: readonly RecordType[],
  texts: SheetTexts,
): Preview {
  const columns = columnsFrom(headings!, recordTypes).map((column, i): ColumnPlan => ({ column, isKey: i === 0 }));
  const sheets = columns.map(({ column }) => sheetColumn(column, table, { recordTypes }));
  const neutral = lines.map((row) => row.map((text, i) => texts.neutral(text, sheets[i])));
  return { from: pastedFrom, lines: [columns.map((c) => c.column.name), ...neutral], rest: 'keep', columns };
}

/** The table that what is tried out would go into: with the columns of the first line where it has none of its own. */
export function plannedTable(table: MappingTable, preview: Preview | undefined): MappingTable {
  const columns = preview?.columns;
  if (!columns) return table;
  const of = (isKey: boolean) => columns.filter((c) => c.isKey === isKey).map((c) => c.column);
  return { ...table, keys: of(true), outputs: of(false) };
}

/** A column of what is tried out becomes a key or an output; there is always at least one of each. */
export function withPlannedKey(preview: Preview, index: number, isKey: boolean): Preview {
  const columns = preview.columns?.map((c, i) => (i === index ? { ...c, isKey } : c));
  return columns && new Set(columns.map((c) => c.isKey)).size === 2 ? { ...preview, columns } : preview;
}

const numberOf = ({ numbers }: Preview, index: number): number => numbers?.[index] ?? index + 1;

/** A likely option in the place of a misspelt one. `line`: by its number in the file; `column`: its key. */
export function withCorrection(
  preview: Preview,
  table: MappingTable,
  correction: { readonly line: number; readonly column: string; readonly from: string; readonly to: string },
): Preview {
  const { line, column, from, to } = correction;
  const at = preview.lines[0]!.findIndex((h) => columnOfHeading(table, h)?.key === column);
  // As it is, whatever it holds: `$` is no pattern here.
  const corrected = (cells: readonly string[]) => cells.map((c, j) => (j === at ? c.replace(from, () => to) : c));
  return {
    ...preview,
    lines: preview.lines.map((cells, i) => (numberOf(preview, i) === line ? corrected(cells) : cells)),
  };
}

/** Cells of which it matters how they are written, read both ways. */
export function* bothWays({ lines }: Preview, texts: SheetTexts): Iterable<ReturnType<SheetTexts['bothWays']>> {
  const [headings = [], ...rows] = lines;
  for (const [i, column] of headings.map((h) => columnOfHeading(texts.table, h)).entries())
    if (column && texts.isOfNumbers(column))
      for (const { [i]: text = '' } of rows) {
        // Most cells are the same text both ways, and need not be read to know it: there may be 200,000.
        if (texts.neutralLine([text], [column])[0] !== text) yield texts.bothWays(text, column);
      }
}

/** The lines as programs write them. */
export function neutralLines({ lines }: Preview, written: Written, texts: SheetTexts): Lines {
  const [headings, ...rows] = lines;
  if (written === 'neutral' || !headings) return lines;
  const columns = headings.map((h) => columnOfHeading(texts.table, h));
  return [headings, ...rows.map((row) => texts.neutralLine(row, columns))];
}

/** The operations that take what was tried out. */
export function takingOver(table: MappingTable, preview: Preview, plan: ImportPlan): readonly Operation[] {
  const { keys, outputs } = plannedTable(table, preview);
  const columns: Operation[] = preview.columns
    ? [
        { op: 'replace', path: '/keys', value: keys },
        { op: 'replace', path: '/outputs', value: outputs },
      ]
    : [];
  return [...columns, ...rowOperations(table.rows, plan.table.rows)];
}

/** The lines that were refused, which stay in sight with the reasons; undefined where all were taken. */
export function leftOver(preview: Preview, { plans }: ImportPlan): Preview | undefined {
  const refused = new Set(plans.flatMap((p) => (p.what === 'refused' && p.line !== undefined ? [p.line] : [])));
  const left = preview.lines.flatMap((line, i) => {
    const number = numberOf(preview, i);
    return i === 0 || refused.has(number) ? [{ line, number }] : [];
  });
  if (left.length < 2) return undefined;
  return {
    from: preview.from,
    lines: left.map((l) => l.line),
    numbers: left.map((l) => l.number),
    rest: 'keep',
    leftOver: true,
    ...(preview.isText ? { isText: true } : {}),
    ...(preview.written ? { written: preview.written } : {}),
  };
}

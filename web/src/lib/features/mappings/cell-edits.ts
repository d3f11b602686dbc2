/** Edits of a sheet's cells: what is typed, cleared, filled and copied, as texts by place, and the operations they come to. */
import { pointer, sameJson, type Cell, type Operation } from '@rigid-rule/core/document';
import { placesIn, type Block, type Place } from './cell-choice.ts';
import { rowOperations } from './row-operations.ts';
import type { Row, SheetTexts } from './sheet-view.ts';

/** A text for one cell. `row`: index in the table. */
export interface CellText {
  readonly row: number;
  readonly column: number;
  readonly text: string;
}

/** The rows in sight, and how their cells read. */
export interface Sheet {
  readonly rows: readonly Row[];
  readonly texts: SheetTexts;
  /** Index of the row on each line. */
  readonly view: readonly number[];
}

/** More cells than this are written row by row. */
const manyChanges = 200;

/** The operations that write texts into cells; none for what is there already. */
export function writing(
  { rows, texts }: Pick<Sheet, 'rows' | 'texts'>,
  cells: readonly CellText[],
): readonly Operation[] {
  const changes = cells.flatMap(({ row, column: at, text }) => {
    const column = texts.columns[at];
    if (!column || !rows[row]) return [];
    const cell = texts.read(text, column);
    return sameJson(cell, rows[row][column.key] ?? null) ? [] : [{ row, key: column.key, cell }];
  });
  if (changes.length > manyChanges) {
    const after = [...rows];
    for (const { row, key, cell } of changes) after[row] = withCell(after[row]!, key, cell);
    return rowOperations(rows, after);
  }
  return changes.flatMap(({ row, key, cell }): Operation[] => {
    const path = pointer('rows', row, key);
    if (cell !== null) return [{ op: 'add', path, value: cell }];
    return rows[row]![key] === undefined ? [] : [{ op: 'remove', path }];
  });
}

function withCell(row: Row, key: string, cell: Cell): Row {
  const { [key]: _, ...others } = row;
  return cell === null ? others : { ...others, [key]: cell };
}

const textAt = ({ rows, texts, view }: Sheet, { line, column }: Place): string =>
  texts.show(rows[view[line]!], texts.columns[column]!);

/** One text in every cell of a block. */
export const filledWith = ({ view }: Sheet, block: Block, text: string): CellText[] =>
  placesIn(block).map(({ line, column }) => ({ row: view[line]!, column, text }));

/** The first line of a block in all lines below; with one line, from the line above. */
export function filledDown(sheet: Sheet, block: Block): readonly CellText[] {
  const from = block.top === block.bottom ? block.top - 1 : block.top;
  if (from < 0) return [];
  return placesIn(block).map(({ line, column }) => ({
    row: sheet.view[line]!,
    column,
    text: textAt(sheet, { line: from, column }),
  }));
}

/** A block continued to a line below, over and over. */
export function filledTo(sheet: Sheet, block: Block, bottom: number): readonly CellText[] {
  const height = block.bottom - block.top + 1;
  const below = { ...block, top: block.bottom + 1, bottom: Math.min(bottom, sheet.view.length - 1) };
  return placesIn(below).map(({ line, column }) => ({
    row: sheet.view[line]!,
    column,
    text: textAt(sheet, { line: block.top + ((line - block.top) % height), column }),
  }));
}

/** A block as spreadsheets exchange it: tabs between cells, quotes around what holds such; never nothing. */
export function copied(sheet: Sheet, { top, bottom, left, right }: Block): string {
  const quoted = (t: string): string => (/[\t\r\n"]/.test(t) ? `"${t.replaceAll('"', '""')}"` : t);
  const line = (at: number): string =>
    sheet.texts.columns
      .slice(left, right + 1)
      .map((_, i) => quoted(textAt(sheet, { line: at, column: left + i })))
      .join('\t');
  const lines = sheet.view.slice(top, bottom + 1).map((_, i) => line(top + i));
  // Where the last cell is empty, what ends its line says that there is one.
  return lines.at(-1) === '' ? `${lines.join('\n')}\n` : lines.join('\n');
}

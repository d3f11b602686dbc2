/** Spreadsheets in and out: CSV, Excel workbooks and DMN, each loaded when it is first used. */
import type { MappingTable, Rulebook } from '@rigid-rule/core/document';
import { saveFile } from '$lib/save-file.ts';
import { readTextFile } from '$lib/text-file.ts';
import { isWorkbook, workbookLines } from '$lib/workbook.ts';
import { readCsv, tablesFromDmn, tablesToDmn, tableToCsv, tableToLines } from '@rigid-rule/core/formats';

export type Lines = readonly (readonly string[])[];
export interface SheetLines {
  readonly lines: Lines;
  /** Where each line stands in the file, from 1; absent: one after the other. */
  readonly numbers?: readonly number[];
  /** What to look at about the file. */
  readonly note?: string;
  /** Nothing but texts: its numbers may be written as programs write them, or as people do. */
  readonly isText?: true;
}
export type ReadLines = SheetLines | { readonly problems: readonly string[] };

/**
 * Text of the clipboard. A spreadsheet puts tabs between cells and nothing about them: a line without tabs is a cell,
 * whatever signs are in it, and an empty one a blank cell. It is CSV where its first line is one of headings.
 */
export function readClipboard(text: string, areHeadings: (line: readonly string[]) => boolean): ReadLines {
  const csv = text.includes('\t') ? undefined : readCsv(text);
  const isCsv = csv && csv.problems.length === 0 && csv.lines[0] !== undefined && csv.lines[0].length > 1;
  const { problems, ...read } = isCsv && areHeadings(csv.lines[0]!) ? csv : readCsv(text, '\t', 'kept');
  return problems.length > 0 ? { problems } : read;
}

/** A file that someone chose, by its ending. Whatever cannot be read whole is refused with the reason. */
export async function readFile(file: File, table: MappingTable, book: Rulebook): Promise<ReadLines> {
  const name = file.name.toLowerCase();
  if (isWorkbook(file)) {
    try {
      const all = await workbookLines(file);
      const full = all.flatMap((row, i) => (row.some((c) => c.trim() !== '') ? [i] : []));
      return { lines: full.map((i) => all[i]!), numbers: full.map((i) => i + 1) };
    } catch (e) {
      return { problems: [`The workbook cannot be read: ${(e as Error).message}.`] };
    }
  }
  const { text, note } = await readTextFile(file);
  if (name.endsWith('.dmn') || name.endsWith('.xml')) {
    const read = await tablesFromDmn(text, { table, book });
    if ('problems' in read) return read;
    return { lines: tableToLines(read.tables.find((t) => t.name === table.name) ?? read.tables[0]!, book) };
  }
  const { problems, ...csv } = readCsv(text);
  return problems.length > 0 ? { problems } : { ...csv, isText: true, ...(note ? { note } : {}) };
}

export const fileKinds = ['csv', 'xlsx', 'dmn'] as const;
export type FileKind = (typeof fileKinds)[number];

async function contentOf(table: MappingTable, kind: FileKind, book: Rulebook): Promise<Blob> {
  if (kind === 'csv') return new Blob(['\ufeff', tableToCsv(table, book)], { type: 'text/csv' });
  if (kind === 'dmn') return new Blob([await tablesToDmn(table.name, [table], book)], { type: 'application/xml' });
  const { default: writeXlsxFile } = await import('write-excel-file/universal');
  const data = tableToLines(table, book).map((line, i) =>
    line.map((value) => ({ value, type: String, ...(i === 0 ? { fontWeight: 'bold' as const } : {}) })),
  );
  return writeXlsxFile(data).toBlob();
}

export async function download(table: MappingTable, kind: FileKind, book: Rulebook): Promise<void> {
  saveFile(await contentOf(table, kind, book), `${table.key}.${kind}`);
}

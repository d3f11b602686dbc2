/** Spreadsheets in and out: CSV, Excel workbooks and DMN, each loaded when it is first used. */
import type { MappingTable, Rulebook } from '@rigid-rule/core/document';
import { readLineFile, type LineFile } from '$lib/line-file.ts';
import { saveFile } from '$lib/save-file.ts';
import { readTextFile } from '$lib/text-file.ts';
import { readCsv, tablesFromDmn, tablesToDmn, tableToCsv, tableToLines } from '@rigid-rule/core/formats';

export type Lines = readonly (readonly string[])[];
/** Lines of a file, or of the clipboard, where they stand one after the other. */
export type SheetLines = Pick<LineFile, 'lines'> & Partial<LineFile>;
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

/** A file that someone chose. Whatever cannot be read whole is refused with the reason. */
export async function readFile(file: File, table: MappingTable, book: Rulebook): Promise<ReadLines> {
  if (/\.(dmn|xml)$/i.test(file.name)) {
    const { text } = await readTextFile(file);
    const read = await tablesFromDmn(text, { table, book });
    if ('problems' in read) return read;
    return { lines: tableToLines(read.tables.find((t) => t.name === table.name) ?? read.tables[0]!, book) };
  }
  try {
    return await readLineFile(file);
  } catch (e) {
    return { problems: [(e as Error).message] };
  }
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

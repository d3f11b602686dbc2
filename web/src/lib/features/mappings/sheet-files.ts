/** Spreadsheets in and out: CSV, Excel workbooks and DMN, each loaded when it is first used. */
import { cellToSheet, readCsv, tablesFromDmn, tablesToDmn, tableToCsv, type MappingTable } from '@rigid-rule/core';

export type Lines = readonly (readonly string[])[];
export type ReadLines = { readonly lines: Lines } | { readonly problems: readonly string[] };

const columnsOf = (table: MappingTable) => [...table.keys, ...table.outputs];

export function linesOf(table: MappingTable): Lines {
  const columns = columnsOf(table);
  return [columns.map((c) => c.name), ...table.rows.map((row) => columns.map((c) => cellToSheet(row[c.key], c)))];
}

/** Text of the clipboard: a spreadsheet puts tabs between cells. */
export function readClipboard(text: string): ReadLines {
  const { lines, problems } = readCsv(text, text.includes('\t') ? '\t' : undefined);
  return problems.length > 0 ? { problems } : { lines };
}

const cellOfWorkbook = (v: unknown): string =>
  v === null || v === undefined ? '' : v instanceof Date ? v.toISOString().slice(0, 10) : String(v);

/** A file that someone chose, by its ending. Whatever cannot be read whole is refused with the reason. */
export async function readFile(file: File, table: MappingTable): Promise<ReadLines> {
  const name = file.name.toLowerCase();
  if (name.endsWith('.xlsx')) {
    try {
      const { readSheet } = await import('read-excel-file/universal');
      const rows = (await readSheet(file)) as unknown[][];
      return { lines: rows.map((row) => row.map(cellOfWorkbook)).filter((row) => row.some((c) => c.trim() !== '')) };
    } catch (e) {
      return { problems: [`The workbook cannot be read: ${(e as Error).message}.`] };
    }
  }
  if (name.endsWith('.dmn') || name.endsWith('.xml')) {
    const read = await tablesFromDmn(await file.text());
    if ('problems' in read) return read;
    return { lines: linesOf(read.tables.find((t) => t.name === table.name) ?? read.tables[0]!) };
  }
  const { lines, problems } = readCsv(await file.text());
  return problems.length > 0 ? { problems } : { lines };
}

export const fileKinds = ['csv', 'xlsx', 'dmn'] as const;
export type FileKind = (typeof fileKinds)[number];

async function contentOf(table: MappingTable, kind: FileKind): Promise<Blob> {
  if (kind === 'csv') return new Blob(['\ufeff', tableToCsv(table)], { type: 'text/csv' });
  if (kind === 'dmn') return new Blob([await tablesToDmn(table.name, [table])], { type: 'application/xml' });
  const { default: writeXlsxFile } = await import('write-excel-file/universal');
  const data = linesOf(table).map((line, i) =>
    line.map((value) => ({ value, type: String, ...(i === 0 ? { fontWeight: 'bold' as const } : {}) })),
  );
  return writeXlsxFile(data).toBlob();
}

export async function download(table: MappingTable, kind: FileKind): Promise<void> {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(await contentOf(table, kind));
  link.download = `${table.key}.${kind}`;
  link.click();
  URL.revokeObjectURL(link.href);
}

/** Excel workbooks as lines of text; the library is loaded when one is first read. */

export const isWorkbook = (file: File): boolean => file.name.toLowerCase().endsWith('.xlsx');

const cellOfWorkbook = (v: unknown): string =>
  v === null || v === undefined ? '' : v instanceof Date ? v.toISOString().slice(0, 10) : String(v);

/** All lines of the first sheet. @throws where the file is no workbook. */
export async function workbookLines(file: File): Promise<string[][]> {
  const { readSheet } = await import('read-excel-file/universal');
  const rows = (await readSheet(file)) as unknown[][];
  return rows.map((row) => row.map(cellOfWorkbook));
}

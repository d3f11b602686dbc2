/** Rulebooks and tables in other forms: what others may use. */
export { cellToSheet, type SheetColumn } from './cell-text.ts';
export { tablesFromDmn, tablesToDmn } from './dmn.ts';
export { fileText, type FileText } from './file-text.ts';
export { rulebookMarkdown, rulebookText, type TextBlock } from './rulebook-text.ts';
export {
  columnOfHeading,
  planImport,
  isEmptyLine,
  readCsv,
  readSheetCell,
  sheetColumn,
  tableToCsv,
  tableToLines,
  type ImportPlan,
  type RestOfRows,
  type RowPlan,
} from './table-csv.ts';

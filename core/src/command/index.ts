/** What the `rigid-rule` command is made of; the command itself adds files, streams and exit codes. */
export { evaluateLine } from './evaluate-line.ts';
export { differenceLines, findingLine, findingsOfRulebook, formatRulebook, readRulebook } from './rulebook-file.ts';
export { csvProblem, csvRows } from './csv-file.ts';
export { claimLines, createComparer, generatedRows, suggestionLines } from './proof.ts';
export { createRowSettler } from './settle-rows.ts';
export { strengthLines, testRulebook } from './test-rulebook.ts';
export { entryPointsOf } from '../compile/entry-points.ts';
export { bandsFromTable, bandsToTable } from '../formats/bands-table.ts';
export { tablesFromDmn, tablesToDmn } from '../formats/dmn.ts';
export { planImport, readCsv, tableToCsv, tableToLines } from '../formats/table-csv.ts';
export { phoneNumber } from '../host/phone-numbers.ts';
export { createPatterns } from '../host/patterns.ts';
export { zoneOffset } from '../host/zones.ts';
export { rulebookSchema } from '../document/schema.ts';

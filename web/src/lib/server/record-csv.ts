/** A list of records as CSV (RFC 4180): what is listed, in its order, with the names of options and linked records. */
import type { Field, RecordType, Rulebook, Stored } from '@rigid-rule/core/document';
import { fieldTypeOf } from '@rigid-rule/core/language';
import Papa from 'papaparse';
import { streamRecords } from './db/record-lists.ts';
import { columnsOf, readListRequest } from './record-list.ts';
import { titlesFor, type TitleMap } from './titles.ts';

/**
 * What a spreadsheet would take for a formula: cells that begin so get an apostrophe (OWASP, CSV Injection). Plain
 * numbers are none.
 */
const formulaLike = /^(?![+-]?[\d.,]+(?:e[+-]?\d+)?$)[=+\-@\t\r].*$/is;

/** Neutral forms, to be read again: ISO 8601, a point in numbers and no groups. Names for what refers. */
function cellOf(field: Field, stored: Stored, titles: TitleMap): string {
  if (stored === null) return '';
  if (typeof stored === 'number') return String(stored);
  const named = typeof stored === 'string' ? titles[field.recordType ?? field.type]?.[stored] : undefined;
  return named ?? fieldTypeOf(field).format(stored, field);
}

export async function* recordCsv(rulebook: Rulebook, type: RecordType, url: URL): AsyncGenerator<string> {
  const columns = columnsOf(type, url.searchParams.get('cols'));
  const print = (rows: readonly (readonly string[])[]): string =>
    `${Papa.unparse(rows as string[][], { escapeFormulae: formulaLike, newline: '\r\n' })}\r\n`;
  // The head comes with the first rows: what is wrong with the question is known before anything is answered.
  let head = `\ufeff${print([columns.map((c) => c.name)])}`;
  for await (const rows of streamRecords(type, readListRequest(type, url, rulebook.zone), rulebook.recordTypes)) {
    const records = rows.map((r) => r.data);
    const titles = await titlesFor(rulebook, columns, records);
    yield head + print(records.map((data) => columns.map((c) => cellOf(c, data[c.key] ?? null, titles))));
    head = '';
  }
  if (head) yield head;
}

import { nameOfField, type RecordType } from '@rigid-rule/core/document';
import type { MovedRecord } from '@rigid-rule/core/rule-tests';
import Papa from 'papaparse';

/** The records behind a number, each with all its fields and what becomes of one of them. */
export function csvOf(type: RecordType, field: string, records: readonly MovedRecord[]): Blob {
  const named = nameOfField(type.fields, field);
  const plain = (v: unknown): string =>
    v === null || v === undefined ? '' : Array.isArray(v) ? v.join(';') : String(v);
  const lines = [
    ['Id', ...type.fields.map((f) => f.name), `${named} before`, `${named} after`, 'Written by'],
    ...records.map((r) => [
      r.id,
      ...type.fields.map((f) => plain(r.data[f.key])),
      plain(r.before),
      plain(r.after),
      r.by ?? '',
    ]),
  ];
  // What a spreadsheet would take for a formula is written as text.
  return new Blob(['\ufeff', Papa.unparse(lines, { escapeFormulae: true, newline: '\r\n' })], { type: 'text/csv' });
}

import { nameOfField, type RecordType } from '@rigid-rule/core/document';
import type { MovedRecord } from '@rigid-rule/core/rule-tests';
import { byteOrderMark, csvText, storedCell } from '$lib/csv-text.ts';

/** The records behind a number, each with all its fields and what becomes of one of them. */
export function csvOf(type: RecordType, field: string, records: readonly MovedRecord[]): Blob {
  const named = nameOfField(type.fields, field);
  const lines = [
    ['Id', ...type.fields.map((f) => f.name), `${named} before`, `${named} after`, 'Written by'],
    ...records.map((r) => [
      r.id,
      ...type.fields.map((f) => storedCell(r.data[f.key])),
      storedCell(r.before),
      storedCell(r.after),
      r.by ?? '',
    ]),
  ];
  return new Blob([byteOrderMark, csvText(lines)], { type: 'text/csv' });
}

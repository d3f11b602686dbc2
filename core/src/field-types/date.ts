import { textType } from '../expression/types.ts';
import { compareText } from '../values/value.ts';
import type { FieldType } from './field-type.ts';

const monthLengths = [31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31];

/** Whether `YYYY-MM-DD` names a day of the proleptic Gregorian calendar (ISO 8601). */
export function isIsoDate(text: string): boolean {
  const m = /^(\d{4})-(\d{2})-(\d{2})$/.exec(text);
  if (!m) return false;
  const [year, month, day] = [Number(m[1]), Number(m[2]), Number(m[3])];
  const leap = year % 4 === 0 && (year % 100 !== 0 || year % 400 === 0);
  const length = month === 2 && leap ? 29 : (monthLengths[month - 1] ?? 0);
  return day >= 1 && day <= length;
}

/** Stored as ISO 8601 `YYYY-MM-DD`. */
export const date: FieldType = {
  key: 'date',
  name: 'date',
  sql: 'text',
  starting: null,
  typeOf: () => textType,
  read: (stored) => (typeof stored === 'string' ? stored : null),
  coerce(value) {
    if (value === null || value === undefined || value === '') return { value: null };
    return typeof value === 'string' && isIsoDate(value) ? { value } : { problem: 'is not a date such as 2026-05-03' };
  },
  parse: (text) => (text.trim() === '' ? null : text.trim()),
  format: (stored) => (typeof stored === 'string' ? stored : ''),
  compare: (a, b) => compareText(String(a), String(b)),
};

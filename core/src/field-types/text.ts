import { textType } from '../expression/types.ts';
import { compareText, RecordRef } from '../values/value.ts';
import { isVisible } from '../values/unicode-case.ts';
import { isNumber, numberToText } from '../values/number.ts';
import { isEmail } from '../values/email.ts';
import type { Field, Stored } from '../rulebook/document.ts';
import type { Coerced, FieldType } from './field-type.ts';

const defaultLength = 255;

/** Neither control characters (line ends and tabs apart) nor halves of surrogate pairs: databases and JSON refuse them. */
function isStorable(text: string): boolean {
  if (isPlainAscii(text)) return true;
  return !/[\p{Cc}\p{Cs}]/u.test(text.replace(/[\t\n\r\u0080-\u009f]/g, ''));
}

function isPlainAscii(text: string): boolean {
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    if (c < 0x20 || c > 0x7e) return false;
  }
  return true;
}

function coerce(value: unknown, field: Field, most: number): Coerced {
  if (value === null || value === undefined || value === '') return { value: null };
  const text = isNumber(value) ? numberToText(value) : value;
  if (typeof text !== 'string') return { problem: 'is not a text' };
  if (!isVisible(text)) return { value: null };
  if (!isStorable(text)) return { problem: 'holds characters that cannot be stored' };
  const limit = field.length ?? most;
  if (text.length > limit && [...text].length > limit) return { problem: `is longer than ${limit} characters` };
  return { value: text };
}

function textual(key: string, name: string, most: number, check?: (text: string) => string | undefined): FieldType {
  return {
    key,
    name,
    sql: 'text',
    starting: null,
    typeOf: () => textType,
    read: (stored) => (typeof stored === 'string' ? stored : null),
    coerce(value, field) {
      const result = coerce(value, field, most);
      if ('problem' in result || result.value === null || !check) return result;
      const problem = check(result.value as string);
      return problem ? { problem } : result;
    },
    parse: (text) => (text.trim() === '' ? null : text),
    format: (stored: Stored) => (typeof stored === 'string' ? stored : ''),
    compare: (a, b) => compareText(String(a), String(b)),
    // One character, and as many as the field takes where that is stated; what has a form of its own has no edge.
    boundaryValues: ({ length }) => (check ? [] : ['a', ...(length === undefined ? [] : ['a'.repeat(length)])]),
  };
}

export const text = textual('text', 'text', defaultLength);
export const longText: FieldType = { ...textual('long text', 'long text', 20_000), lines: true };
export const phone = textual('phone', 'phone', 40, (t) =>
  /^[+\d][\d\s()./-]{2,}$/.test(t) ? undefined : 'is not a phone number',
);
export const email = textual('email', 'email', 254, (t) => (isEmail(t) ? undefined : 'is not an email address'));
export const webAddress = textual('web address', 'web address', 2_000, (t) =>
  /^https?:\/\/[^\s]+$/i.test(t) ? undefined : 'is not a web address',
);
/** A reference by natural key; whether the user exists is the caller's to know. */
export const user: FieldType = { ...textual('user', 'user', 254), boundaryValues: () => [] };

const reference = textual('lookup', 'lookup', 64);
/** Holds the id of the record that it names; whether that exists is the caller's to know. */
export const lookup: FieldType = {
  ...reference,
  boundaryValues: () => [],
  read: (stored, field) =>
    typeof stored === 'string' && stored !== '' ? new RecordRef(field.recordType ?? '', stored) : null,
  coerce(value, field) {
    if (!(value instanceof RecordRef)) return reference.coerce(value, field);
    return value.recordType === (field.recordType ?? '')
      ? { value: value.id === '' ? null : value.id }
      : { problem: `is not a record that ${field.name} can name` };
  },
};

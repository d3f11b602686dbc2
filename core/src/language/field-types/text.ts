import { textType } from '../types/types.ts';
import { compareText, RecordRef } from '../../values/value.ts';
import { isVisible } from '../../values/unicode-case.ts';
import { isNumber, numberToText } from '../../values/number.ts';
import { isEmail } from '../../values/email.ts';
import type { Field, Stored } from '../../document/document.ts';
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

function textual<K extends string>(
  key: K,
  most: number,
  more: Partial<FieldType<K>> & { readonly example: string },
  check?: (text: string) => string | undefined,
): FieldType<K> {
  return {
    key,
    name: key,
    column: 'text',
    sql: { json: 'string', as: 'text' },
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
    ...more,
  };
}

const named = { identifies: true, titles: true, templated: true, limited: true } as const;

export const text = textual('text', defaultLength, { example: 'Alder', free: true, masks: 'words', ...named });
export const longText = textual('long text', 20_000, {
  example: 'Two lines,\nas they were typed.',
  lines: true,
  masks: 'words',
  templated: true,
  limited: true,
});
export const phone = textual('phone', 40, { example: '+49 30 555 0123', masks: 'digits', limited: true }, (t) =>
  /^[+\d][\d\s()./-]{2,}$/.test(t) ? undefined : 'is not a phone number',
);
export const email = textual('email', 254, { example: 'a@b.example', reaches: true, masks: 'address', ...named }, (t) =>
  isEmail(t) ? undefined : 'is not an email address',
);
export const webAddress = textual(
  'web address',
  2_000,
  { example: 'https://a.example', masks: 'link', templated: true, limited: true },
  (t) => (/^https?:\/\/[^\s]+$/i.test(t) ? undefined : 'is not a web address'),
);
/** A reference by natural key; whether the user exists is the caller's to know. */
export const user = textual('user', 254, {
  example: 'a@b.example',
  users: true,
  reaches: true,
  boundaryValues: () => [],
  usualStarts: () => [{ name: 'who fills it in', formula: 'user.email' }],
});

const reference = textual('lookup', 64, { example: '1' });
/** Holds the id of the record that it names; whether that exists is the caller's to know. */
export const lookup: FieldType<'lookup'> = {
  ...reference,
  links: true,
  boundaryValues: () => [],
  usualStarts: ({ recordType }, userRecordType) =>
    recordType !== undefined && recordType === userRecordType
      ? [{ name: 'the contact of who fills it in', formula: 'user.contact' }]
      : [],
  read: (stored, field) =>
    typeof stored === 'string' && stored !== '' ? new RecordRef(field.recordType ?? '', stored) : null,
  coerce(value, field) {
    if (!(value instanceof RecordRef)) return reference.coerce(value, field);
    return value.recordType === (field.recordType ?? '')
      ? { value: value.id === '' ? null : value.id }
      : { problem: `is not a record that ${field.name} can name` };
  },
};

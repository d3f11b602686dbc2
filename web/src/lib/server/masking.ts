/**
 * Names, addresses, numbers and free text of live records replaced before they are copied: the same by the same, so that
 * what matched still matches, and what only looked alike still does.
 */
import { createHmac } from 'node:crypto';
import type { Field, RecordData, RecordType, Stored } from '@rigid-rule/core/document';
import { fieldTypeOf, type FieldType } from '@rigid-rule/core/language';

const syllables = [
  'al',
  'bre',
  'cor',
  'den',
  'el',
  'fen',
  'gar',
  'hol',
  'is',
  'kel',
  'lor',
  'mos',
  'nor',
  'ol',
  'pen',
  'ros',
];

const replacements: Readonly<Record<NonNullable<FieldType['masks']>, (text: string, digest: Buffer) => string>> = {
  address: (_, digest) => `${wordOf(digest)}.${digest.readUInt16BE(4)}@example.org`,
  digits: (text, digest) => {
    let at = 0;
    // The country's code stays, so that rules on it still say the same.
    return text.replace(/\d/g, (d, i: number) => (i < 3 ? d : String(digest[at++ % digest.length]! % 10)));
  },
  words: (text, digest) => masked(text, digest),
  link: (_, digest) => `https://www.example.org/${wordOf(digest)}`,
};

function wordOf(digest: Buffer): string {
  const part = (i: number): string => syllables[digest[i]! % syllables.length]!;
  return `${part(0)}${part(1)}${part(2)}`;
}

/** Word by word with the same letters' case, spaces and signs, so that counts and shapes stay. */
function masked(text: string, digest: Buffer): string {
  let at = 0;
  return text.replace(/\p{L}+/gu, (word) => {
    const made = wordOf(Buffer.concat([digest.subarray(at % 20), digest])).slice(0, Math.max(2, word.length));
    at++;
    const capital = word[0] !== word[0]!.toLowerCase();
    return capital ? made.charAt(0).toUpperCase() + made.slice(1) : made;
  });
}

export interface Masking {
  mask(data: RecordData): RecordData;
}

/** `secret`: known to this copy alone, and forgotten with it: what was there cannot be found out from what is here. */
export function maskingOf(type: RecordType, secret: Buffer): Masking {
  const fields = type.fields.filter((f) => fieldTypeOf(f).masks !== undefined);
  return {
    mask: (data) => {
      const next: Record<string, Stored> = { ...data };
      for (const field of fields) {
        const value = next[field.key];
        if (typeof value === 'string') next[field.key] = maskValue(field, value, secret);
      }
      return next;
    },
  };
}

function maskValue(field: Field, value: string, secret: Buffer): Stored {
  // Alike but for case and outer spaces stays alike but for that.
  const digest = createHmac('sha256', secret).update(value.trim().toLowerCase()).digest();
  const text = replacements[fieldTypeOf(field).masks!](value, digest);
  const coerced = fieldTypeOf(field).coerce(text.slice(0, field.length ?? text.length), field);
  return 'value' in coerced ? coerced.value : null;
}

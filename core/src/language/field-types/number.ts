import { plainWriting } from '../types/writing.ts';
import { numberType } from '../types/types.ts';
import {
  compareNumbers,
  isNumber,
  isShort,
  parseNumber,
  round,
  toDecimal,
  type Num,
  type Rounding,
} from '../../values/number.ts';
import type { Field, Stored } from '../../document/document.ts';
import type { Coerced, FieldType } from './field-type.ts';

function coerce(
  value: unknown,
  field: Field,
  scale: number,
  usual: Rounding,
  said: (bound: number) => string,
): Coerced {
  if (value === null || value === undefined || value === '') return { value: null };
  const input = typeof value === 'string' ? parseNumber(value.trim()) : value;
  if (!isNumber(input) || (typeof input === 'number' && !Number.isFinite(input))) return { problem: 'is not a number' };
  const decimals = field.scale ?? scale;
  const rounded = decimals < 0 ? input : round(input, decimals, field.rounding ?? usual);
  if (rounded === null || !isShort(rounded)) return { problem: 'has more than 15 digits' };
  if (field.min !== undefined && compareNumbers(rounded, field.min) < 0)
    return { problem: `is below ${said(field.min)}` };
  if (field.max !== undefined && compareNumbers(rounded, field.max) > 0)
    return { problem: `is above ${said(field.max)}` };
  return { value: rounded };
}

/** `-1234567.5` as `−1,234,567.5` with at least `scale` decimals where the field says so. */
export function groupDigits(n: Num, scale = 0): string {
  const d = toDecimal(n);
  const plain = d.decimalPlaces() < scale ? d.toFixed(scale) : d.toFixed();
  const [whole = '', fraction] = plain.replace('-', '').split('.');
  const grouped = whole.replace(/\B(?=(?:\d{3})+$)/g, ',');
  return `${plain.startsWith('-') ? '\u2212' : ''}${grouped}${fraction ? `.${fraction}` : ''}`;
}

/** Whole amounts without decimals, as they are said. */
export const withoutZeros = (neutral: string): string => neutral.replace(/(?<=^\u2212?[\d,]+)\.0+$/, '');

/** Typed text without group marks (comma, space, apostrophe between three digits) and with a plain minus. */
function ungroup(text: string): string {
  const t = text.trim().replace(/\u2212/g, '-');
  return /^[+-]?\d{1,3}(?:[,\u00a0\u202f '’]\d{3})+(?:\.\d*)?$/.test(t) ? t.replace(/[,\u00a0\u202f '’]/g, '') : t;
}

/** Without a scale of its own a field keeps `scale` decimals; `stated`: that is a step that people count in. */
function numeric<K extends string>(
  key: K,
  scale: number,
  stated: boolean,
  shown: Partial<FieldType<K>> = {},
): FieldType<K> {
  const rounding = shown.rounding ?? 'half-even';
  const type: FieldType<K> = {
    key,
    name: key,
    example: 12.5,
    column: 'number',
    usualStarts: () => [{ name: '0', formula: '0' }],
    numeric: true,
    rounding,
    written: 'number',
    bounds: { called: 'a number', accepts: (text) => /^[+-]?\d{1,20}(?:\.\d{1,10})?$/.test(text) },
    sql: { json: 'number', as: 'numeric' },
    starting: null,
    typeOf: () => numberType,
    read: (stored) => (typeof stored === 'number' ? stored : null),
    coerce: (value, field, writing = plainWriting) =>
      coerce(value, field, scale, rounding, (bound) => writing[type.written!](withoutZeros(type.format(bound, field)))),
    parse: (text) => (text.trim() === '' ? null : ungroup(text)),
    format: (stored: Stored) => (typeof stored === 'number' ? groupDigits(stored) : ''),
    compare: (a, b) => compareNumbers(a as number, b as number),
    step(field) {
      const decimals = field.scale ?? (stated ? scale : -1);
      return decimals < 0 ? undefined : Number(`1e-${decimals}`);
    },
    boundaryValues: ({ min, max }) => [0, min, max].filter((n) => n !== undefined),
    ...shown,
  };
  return type;
}

export const number = numeric('number', 10, false);
export const money = numeric('money', 2, true, {
  written: 'money',
  // As invoices and tills round (common practice): 2.5 gives 3.
  rounding: 'half-up',
  format: (stored, field) => (typeof stored === 'number' ? groupDigits(stored, field.scale ?? 2) : ''),
});
/** 15 % is 0.15; typed and shown as 15 %. */
export const percent = numeric('percent', 4, true, {
  example: 0.15,
  parse(text) {
    const typed = ungroup(text.replace(/\s*%\s*$/, ''));
    if (typed === '') return null;
    const n = parseNumber(typed);
    return n === null ? text : toDecimal(n).div(100).toString();
  },
  format: (stored) => (typeof stored === 'number' ? `${groupDigits(toDecimal(stored).times(100))} %` : ''),
});

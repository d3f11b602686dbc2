import { anyType, textType } from '../types/types.ts';
import { FeelDate, FeelDateTime, FeelTime, nanosPerSecond, weekday } from '../../values/calendar.ts';
import { Decimal, isNumber, toDecimal, type Num } from '../../values/number.ts';
import type { Value } from '../../values/value.ts';
import type { LanguageFunction } from './function.ts';

const months = 'January February March April May June July August September October November December'.split(' ');
const days = 'Monday Tuesday Wednesday Thursday Friday Saturday Sunday'.split(' ');
const padded = (n: number, width: number): string => String(n).padStart(width, '0');

/** Fields of a date pattern by letter and count, as Unicode's LDML (UTS 35, part 4) names them; English names. */
const dateFields: Readonly<Record<string, (d: FeelDate, width: number) => string>> = {
  y: (d, w) => (w === 2 ? padded(d.year % 100, 2) : padded(d.year, w)),
  M: (d, w) => (w === 4 ? months[d.month - 1]! : w === 3 ? months[d.month - 1]!.slice(0, 3) : padded(d.month, w)),
  d: (d, w) => padded(d.day, w),
  E: (d, w) => (w === 4 ? days[weekday(d) - 1]! : days[weekday(d) - 1]!.slice(0, 3)),
};
const seconds = (t: FeelTime): number => Number(t.nanos / nanosPerSecond);
const timeFields: Readonly<Record<string, (t: FeelTime, width: number) => string>> = {
  H: (t, w) => padded(Math.floor(seconds(t) / 3600), w),
  h: (t, w) => padded(((Math.floor(seconds(t) / 3600) + 11) % 12) + 1, w),
  a: (t) => (seconds(t) < 43_200 ? 'am' : 'pm'),
  m: (t, w) => padded(Math.floor(seconds(t) / 60) % 60, w),
  s: (t, w) => padded(seconds(t) % 60, w),
};

/** Null where the pattern asks for what the value has not, or has a letter that means nothing. */
function temporalAsText(date: FeelDate | null, time: FeelTime | null, pattern: string): string | null {
  let result = '';
  for (const [token] of pattern.matchAll(/'(?:[^']|'')*'|([A-Za-z])\1*|[^A-Za-z']/g)) {
    const letter = token[0]!;
    if (letter === "'") result += token === "''" ? "'" : token.slice(1, -1).replaceAll("''", "'");
    else if (!/[A-Za-z]/.test(letter)) result += token;
    else if (date && Object.hasOwn(dateFields, letter)) result += dateFields[letter]!(date, token.length);
    else if (time && Object.hasOwn(timeFields, letter)) result += timeFields[letter]!(time, token.length);
    else return null;
  }
  return result;
}

/** `#,##0.00` and the like (UTS 35, part 3): text around it stays; rounds half-even. */
function numberAsText(n: Num, pattern: string): string | null {
  const shape = /^([^#0,.]*)([#,0]*)(?:\.([0#]*))?(\s*%)?([^#0]*)$/.exec(pattern);
  if (!shape?.[2]) return null;
  const [, before = '', whole = '', fraction = '', percent = '', behind = ''] = shape;
  const value = percent ? toDecimal(n).times(100) : toDecimal(n);
  const least = fraction.replace(/#/g, '').length;
  const rounded = value.toDecimalPlaces(fraction.length, Decimal.ROUND_HALF_EVEN);
  const plain = rounded.abs().toFixed(Math.max(least, rounded.decimalPlaces()));
  const [integer = '', decimals] = plain.split('.');
  const width = whole.replace(/[#,]/g, '').length;
  let digits = width === 0 && integer === '0' ? '' : integer.padStart(width, '0');
  if (whole.includes(',')) digits = digits.replace(/\B(?=(?:\d{3})+$)/g, ',');
  const sign = rounded.isNegative() && !rounded.isZero() ? '-' : '';
  return `${before}${sign}${digits}${decimals ? `.${decimals}` : ''}${percent}${behind}`.replace(/'/g, '');
}

function asText([v, pattern]: readonly Value[]): Value {
  if (typeof pattern !== 'string' || pattern.length > 200) return null;
  if (v !== undefined && isNumber(v)) return numberAsText(v, pattern);
  if (v instanceof FeelDate) return temporalAsText(v, null, pattern);
  if (v instanceof FeelTime) return temporalAsText(null, v, pattern);
  return v instanceof FeelDateTime ? temporalAsText(v.date, v.time, pattern) : null;
}

export const displayFunctions: readonly LanguageFunction[] = [
  {
    name: 'as text',
    parameters: [
      { name: 'value', type: anyType },
      { name: 'pattern', type: textType },
    ],
    result: textType,
    help: 'A date, time or number written by a pattern of Unicode’s LDML: "d MMMM yyyy", "#,##0.00".',
    examples: [
      ['as text(@"2026-05-03", "d MMMM yyyy")', '3 May 2026'],
      ['as text(@"2026-05-03", "EEE dd.MM.yy")', 'Sun 03.05.26'],
      ['as text(1234.5, "#,##0.00")', '1,234.50'],
      ['as text(0.125, "0.# %")', '12.5 %'],
      ['as text(-7, "000")', '-007'],
      ['as text(@"2026-05-03", "Q")', null],
    ],
    work: 100,
    evaluate: asText,
  },
];

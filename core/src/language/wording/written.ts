/** Stored values as people read them in sentences. */
import type { Field, Stored } from '../../document/document.ts';
import { FeelDate, temporalText } from '../../values/calendar.ts';
import { isNumber, parseNumber } from '../../values/number.ts';
import { valueToText, type Value } from '../../values/value.ts';
import { fieldTypeOf } from '../field-types/index.ts';
import { groupDigits, withoutZeros } from '../field-types/number.ts';
import type { Writing } from '../types/writing.ts';

/** An empty text for blank. */
export const writtenValue = (field: Field, stored: Stored, writing: Writing): string =>
  written(field, fieldTypeOf(field).format(stored, field), writing);

export const writtenOrBlank = (field: Field, stored: Stored, writing: Writing): string =>
  writtenValue(field, stored, writing) || 'blank';

/** Whole amounts without decimals, as they are said. */
export const spokenValue = (field: Field, stored: Stored, writing: Writing): string =>
  written(field, withoutZeros(fieldTypeOf(field).format(stored, field)), writing);

function written(field: Field, neutral: string, writing: Writing): string {
  return neutral === '' ? '' : writing[fieldTypeOf(field).written ?? 'text'](neutral);
}

/** What a field was given, of its type or not: as it is shown where it is a number of it, else as formulas write it. */
export function writtenGiven(field: Field, v: Value, writing: Writing): string {
  const n = fieldTypeOf(field).numeric && typeof v === 'string' ? parseNumber(v.trim()) : v;
  if (isNumber(n)) return typeof n === 'number' ? spokenValue(field, n, writing) : writtenLoose(n, writing);
  return writtenLoose(v, writing);
}

/** A value of no field in particular: numbers in groups, days, all else as formulas write it. */
export function writtenLoose(v: Value, writing: Writing): string {
  if (isNumber(v)) return writing.number(groupDigits(v));
  return v instanceof FeelDate ? writing.day(temporalText(v)) : writing.text(valueToText(v));
}

/** Stored values as people read them in sentences. */
import type { Field, Stored } from '../../document/document.ts';
import { FeelDate, temporalText } from '../../values/calendar.ts';
import { isNumber } from '../../values/number.ts';
import { valueToText, type Value } from '../../values/value.ts';
import { fieldTypeOf } from '../field-types/index.ts';
import { groupDigits } from '../field-types/number.ts';
import type { Writing } from '../types/writing.ts';

/** An empty text for blank. */
export const writtenValue = (field: Field, stored: Stored, writing: Writing): string =>
  written(field, fieldTypeOf(field).format(stored, field), writing);

export const writtenOrBlank = (field: Field, stored: Stored, writing: Writing): string =>
  writtenValue(field, stored, writing) || 'blank';

/** Whole amounts without decimals, as they are said. */
export const spokenValue = (field: Field, stored: Stored, writing: Writing): string =>
  written(
    field,
    fieldTypeOf(field)
      .format(stored, field)
      .replace(/(?<=^\u2212?[\d,]+)\.0+$/, ''),
    writing,
  );

function written(field: Field, neutral: string, writing: Writing): string {
  const { written: as } = fieldTypeOf(field);
  return as && neutral !== '' ? writing[as](neutral) : neutral;
}

/** A value of no field in particular: numbers in groups, days, all else as formulas write it. */
export function writtenLoose(v: Value, writing: Writing): string {
  if (isNumber(v)) return writing.number(groupDigits(v));
  return v instanceof FeelDate ? writing.day(temporalText(v)) : valueToText(v);
}

/** The values of a condition row: formula texts as they are shown and typed there. */
import { fieldTypes, quoteText, unescapeText, type Scope, type Type } from '@rigid-rule/core/language';
import type { WrittenForm } from '$lib/locale.ts';

export const isText = (formula: string): boolean => /^"(?:\\.|[^"\\])*"$/.test(formula);

const isNumber = (formula: string): boolean => /^-?\d+(?:\.\d+)?$/.test(formula);

/** Texts without their quotation marks, numbers as an organisation writes them, nothing for blank. */
export function shownInRow(formula: string, form: Pick<WrittenForm, 'number'>): string {
  if (isText(formula)) return unescapeText(formula);
  return formula === 'null' ? '' : isNumber(formula) ? form.number(formula) : formula;
}

/** What stands between several values: what none of them has inside. */
export const rowSeparator = ({ kind }: Type, form: Pick<WrittenForm, 'number'>): ',' | ';' =>
  kind === 'number' && form.number('1,000.5').includes(',') ? ';' : ',';

const number = fieldTypes.find((t) => t.key === 'number')!;
/** A number in a formula is never rounded. */
const plain = { key: 'value', name: 'value', type: 'number', scale: -1 };

/** What was typed as a formula: the name of a field stays one, what is no number is a text. */
export function rowFormula(
  typed: string,
  { kind }: Type,
  fields: Pick<Scope['fields'], 'has'>,
  form: Pick<WrittenForm, 'typedNumber'>,
): string {
  const text = typed.trim();
  if (fields.has(text)) return text;
  if (kind === 'number') {
    const coerced = number.coerce(number.parse(form.typedNumber(text), plain), plain);
    return 'value' in coerced && typeof coerced.value === 'number' ? String(coerced.value) : text || 'null';
  }
  return kind === 'text' || kind === 'any' ? quoteText(typed) : text || 'null';
}

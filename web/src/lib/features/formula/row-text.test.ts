import type { Type } from '@rigid-rule/core/language';
import { writtenForm } from '$lib/locale.ts';
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { rowFormula, rowSeparator, shownInRow } from './row-text.ts';

const form = (tag: string) => writtenForm({ tag, currency: 'EUR' });
const [numberType, textType, booleanType] = (['number', 'text', 'boolean'] as const).map((kind): Type => ({
  kind,
})) as [Type, Type, Type];
const fields = new Set(['Employee count']);

it.each<[string, Type, string, string]>([
  ['7', numberType, 'en-GB', '7'],
  ['2.5', numberType, 'en-GB', '2.5'],
  ['1,234', numberType, 'en-GB', '1234'],
  ['1.234', numberType, 'de', '1234'],
  ['2,5', numberType, 'de', '2.5'],
  ['2.5', numberType, 'de', '2.5'],
  ['0.00000000000123', numberType, 'en-GB', '1.23e-12'],
  ['Employee count', numberType, 'de', 'Employee count'],
  ['Employee count * 2', numberType, 'de', 'Employee count * 2'],
  ['', numberType, 'de', 'null'],
  [' Won', textType, 'de', '" Won"'],
  ['true', booleanType, 'de', 'true'],
])('%s is typed', (typed, type, tag, formula) => expect(rowFormula(typed, type, fields, form(tag))).toBe(formula));

it('a number is the same number again, whatever its size and however it is written', () => {
  const decimal = fc.tuple(fc.integer({ min: -(10 ** 14), max: 10 ** 14 }), fc.nat(12)).map(([n, d]) => n / 10 ** d);
  fc.assert(
    fc.property(fc.constantFrom('en-GB', 'de', 'fr', 'de-CH', 'en-IN'), decimal, (tag, n) => {
      const formula = String(n);
      expect(rowFormula(shownInRow(formula, form(tag)), numberType, fields, form(tag))).toBe(formula);
    }),
  );
});

it.each<[Type, string, string]>([
  [numberType, 'en-GB', ';'],
  [numberType, 'de', ';'],
  [numberType, 'fr', ';'],
  [numberType, 'de-CH', ','],
  [textType, 'de', ','],
])('between several', (type, tag, sign) => expect(rowSeparator(type, form(tag))).toBe(sign));

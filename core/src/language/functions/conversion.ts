import { anyType, numberType, textType } from '../types/types.ts';
import { parseNumber } from '../../values/number.ts';
import { longestValueText, valueToText, type Value } from '../../values/value.ts';
import { sizeOf, type LanguageFunction } from './function.ts';

const separators: readonly Value[] = [' ', ',', '.', null];

function number([from, grouping = null, decimal = null]: readonly Value[]): Value {
  if (typeof from !== 'string') return null;
  if (
    !separators.includes(grouping) ||
    !['.', ',', null].includes(decimal as string) ||
    (grouping !== null && grouping === decimal)
  )
    return null;
  const ungrouped = typeof grouping === 'string' ? from.replaceAll(grouping, '') : from;
  return parseNumber(typeof decimal === 'string' ? ungrouped.replace(decimal, '.') : ungrouped);
}

export const conversionFunctions: readonly LanguageFunction[] = [
  {
    name: 'number',
    parameters: [
      { name: 'from', type: textType },
      { name: 'grouping separator', type: textType, optional: true },
      { name: 'decimal separator', type: textType, optional: true },
    ],
    result: numberType,
    help: 'A number from a text; says which marks group and which separate decimals.',
    examples: [
      ['number("1 000,0", " ", ",")', 1000],
      ['number("1,000.5", ",", ".")', 1000.5],
      ['number("1,000", ",", ",")', null],
      ['number("x")', null],
    ],
    evaluate: number,
  },
  {
    name: 'string',
    passes: true,
    parameters: [{ name: 'from', type: anyType }],
    result: textType,
    help: 'A value as text.',
    examples: [
      ['string(1.10)', '1.1'],
      ['string(null)', null],
      ['string("a")', 'a'],
      ['string([1, "b"])', '[1, "b"]'],
      ['string(true)', 'true'],
    ],
    evaluate([v = null], _host, meter) {
      if (v === null || typeof v === 'string') return v;
      const text = valueToText(v);
      meter.spend(2 * sizeOf(text) * 8);
      return text.length > longestValueText ? null : text;
    },
  },
];

import { anyType, booleanType, join, nullType } from '../types/types.ts';
import { isBlank } from '../../values/value.ts';
import type { LanguageFunction } from './function.ts';

export const logicFunctions: readonly LanguageFunction[] = [
  {
    name: 'not',
    parameters: [{ name: 'negand', type: booleanType }],
    result: booleanType,
    help: 'True becomes false and false true; anything else gives blank.',
    examples: [
      ['not(1 > 2)', true],
      ['not(true)', false],
      ['not(null)', null],
    ],
    work: 1,
    evaluate: ([negand]) => (typeof negand === 'boolean' ? !negand : null),
  },
  {
    name: 'is blank',
    parameters: [{ name: 'value', type: anyType }],
    result: booleanType,
    help: 'Whether there is nothing: no value, a text without a visible character or an empty list.',
    examples: [
      ['is blank("")', true],
      ['is blank(" ")', true],
      ['is blank(null)', true],
      ['is blank(0)', false],
      ['is blank([])', true],
    ],
    work: 1,
    evaluate: ([value]) => isBlank(value ?? null),
  },
  {
    name: 'first filled',
    passes: true,
    parameters: [{ name: 'values', type: anyType }],
    variadic: true,
    result: (args) => args.reduce(join, nullType),
    help: 'The first of the values that is not blank.',
    examples: [
      ['first filled(null, "", "b")', 'b'],
      ['first filled(null)', null],
    ],
    work: 1,
    evaluate: (values) => values.find((v) => !isBlank(v)) ?? null,
  },
];

/** The registry of functions: adding one is one entry in a family's file; a new family is one line here. */
import { displayFunctions } from './as-text.ts';
import { changeFunctions } from './change.ts';
import { contactFunctions } from './contact.ts';
import { contextFunctions } from './context.ts';
import { conversionFunctions } from './conversion.ts';
import type { LanguageFunction } from './function.ts';
import { listFunctions } from './list.ts';
import { logicFunctions } from './logic.ts';
import { numericFunctions } from './numeric.ts';
import { rangeFunctions } from './range.ts';
import { temporalFunctions } from './temporal.ts';
import { textFunctions } from './text.ts';
import { totalFunctions } from './totals.ts';
import { wordFunctions } from './words.ts';
import { workingDayFunctions } from './working-days.ts';

export const functions: readonly LanguageFunction[] = [
  ...logicFunctions,
  ...conversionFunctions,
  ...textFunctions,
  ...numericFunctions,
  ...listFunctions,
  ...totalFunctions,
  ...temporalFunctions,
  ...rangeFunctions,
  ...contextFunctions,
  ...changeFunctions,
  ...wordFunctions,
  ...contactFunctions,
  ...workingDayFunctions,
  ...displayFunctions,
];

const byName = new Map(functions.map((f) => [f.name, f]));

export function findFunction(name: string): LanguageFunction | undefined {
  return byName.get(name);
}

export const functionNames: readonly string[] = functions.map((f) => f.name);

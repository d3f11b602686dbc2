/** The registry of functions: adding one is one entry in a family's file; a new family is one line here. */
import { contextFunctions } from './context.ts';
import { conversionFunctions } from './conversion.ts';
import type { LanguageFunction } from './function.ts';
import { listFunctions } from './list.ts';
import { logicFunctions } from './logic.ts';
import { numericFunctions } from './numeric.ts';
import { rangeFunctions } from './range.ts';
import { temporalFunctions } from './temporal.ts';
import { textFunctions } from './text.ts';

export const functions: readonly LanguageFunction[] = [
  ...logicFunctions,
  ...conversionFunctions,
  ...textFunctions,
  ...numericFunctions,
  ...listFunctions,
  ...temporalFunctions,
  ...rangeFunctions,
  ...contextFunctions,
];

const byName = new Map(functions.map((f) => [f.name, f]));

export function findFunction(name: string): LanguageFunction | undefined {
  return byName.get(name);
}

export const functionNames: readonly string[] = functions.map((f) => f.name);

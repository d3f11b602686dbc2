/** The registry of functions: adding one is one entry in a family's file; a new family is one line here. */
import type { LanguageFunction } from './function.ts';
import { logicFunctions } from './logic.ts';
import { numericFunctions } from './numeric.ts';

export const functions: readonly LanguageFunction[] = [...logicFunctions, ...numericFunctions];

const byName = new Map(functions.map((f) => [f.name, f]));

export function findFunction(name: string): LanguageFunction | undefined {
  return byName.get(name);
}

export const functionNames: readonly string[] = functions.map((f) => f.name);

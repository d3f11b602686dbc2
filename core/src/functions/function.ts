/** A function of the formula language: signature, help, examples (run as tests) and implementation in one entry. */
import type { Type } from '../expression/types.ts';
import type { Value } from '../values/value.ts';

export interface Parameter {
  readonly name: string;
  readonly type: Type;
}

export interface LanguageFunction {
  readonly name: string;
  readonly parameters: readonly Parameter[];
  /** The last parameter may be given any number of times. */
  readonly variadic?: true;
  readonly result: Type | ((given: readonly Type[]) => Type);
  /** One line for people. */
  readonly help: string;
  /** Formula and the value it gives; the first one is shown with the help. */
  readonly examples: readonly (readonly [formula: string, gives: Value])[];
  /** Arguments have been checked for number, not for type: a wrong type gives null. */
  evaluate(given: readonly Value[]): Value;
}

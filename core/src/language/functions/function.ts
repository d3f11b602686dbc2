/** A function of the formula language: signature, help, examples (run as tests) and implementation in one entry. */
import type { Host } from '../types/host.ts';
import type { Type } from '../types/types.ts';
import type { Meter } from '../../values/meter.ts';
import { isContext, isList, type Value } from '../../values/value.ts';

export interface Parameter {
  readonly name: string;
  readonly type: Type;
  /** May be left out; only at the end. */
  readonly optional?: true;
}

export interface LanguageFunction {
  readonly name: string;
  readonly parameters: readonly Parameter[];
  /** Other ways to call it. */
  readonly alternatives?: readonly (readonly Parameter[])[];
  /** What of the host it asks for; where that is large, it is loaded only for rulebooks that use such a function. */
  readonly needs?: 'pattern' | 'phone';
  /** Its value comes from the moment of the write. */
  readonly clock?: true;
  /** The last parameter may be given any number of times. */
  readonly variadic?: true;
  readonly result: Type | ((args: readonly Type[]) => Type);
  /** One line for people. */
  readonly help: string;
  /** Formula and the value it gives; the first one is shown with the help. */
  readonly examples: readonly (readonly [formula: string, gives: Value])[];
  /** It totals a list: over records blanks are skipped; `ofNone` is what it gives where there is nothing to total. */
  readonly total?: { readonly ofNone: Value };
  /** Its result is one of its arguments, or made of them or their items: options stay options. */
  readonly passes?: true;
  /** It holds its arguments against each other for being equal. */
  readonly compares?: true;
  /** It asks for an entry of a context by name: the places of the two arguments. */
  readonly keyed?: readonly [context: number, key: number];
  /** It takes a field of the record, whose value before the write it compares with the present one. */
  readonly onField?: (now: Value, before: Value, changed: boolean, order: ReadonlyMap<string, number> | null) => Value;
  /** It compares options by their order. */
  readonly ordered?: true;
  readonly evaluateOrdered?: (args: readonly Value[], order: ReadonlyMap<string, number>) => Value;
  /**
   * What a call is charged before it runs, in steps of a `Meter`: a number, or the work by the arguments. Left out, the
   * size of the arguments and, afterwards, of the result. A function whose work grows faster charges the meter itself.
   */
  readonly work?: number | ((args: readonly Value[]) => number);
  /** Arguments have been checked for number, not for type: a wrong type gives null. */
  evaluate(args: readonly Value[], host: Host, meter: Meter): Value;
}

/** Size of a value in steps: items of a list, characters of a text by the eight. What a list holds is not looked at. */
export function sizeOf(v: Value): number {
  if (typeof v === 'string') return v.length >> 3;
  return isList(v) ? v.length : isContext(v) ? v.size : 0;
}

const sizeOfAll = (args: readonly Value[]): number => {
  let sum = 1;
  for (const v of args) sum += sizeOf(v);
  return sum;
};

/** Calls a function and charges for it. */
export function callMetered(f: LanguageFunction, args: readonly Value[], host: Host, meter: Meter): Value {
  const { work } = f;
  if (work === undefined) meter.spend(sizeOfAll(args));
  else meter.spend(typeof work === 'number' ? work : work(args));
  const result = f.evaluate(args, host, meter);
  if (work === undefined) meter.spend(sizeOf(result));
  return result;
}

/** Steps up to which calls are not charged outside loops: no formula has enough of them to matter. */
const smallWork = 100;
export const isConstantWork = (f: LanguageFunction): boolean => typeof f.work === 'number' && f.work <= smallWork;

export const signaturesOf = (f: LanguageFunction): readonly (readonly Parameter[])[] => [
  f.parameters,
  ...(f.alternatives ?? []),
];

/** The way of calling that suits the number of arguments and their names, if there is one. */
export function signatureFor(
  f: LanguageFunction,
  count: number,
  names?: readonly string[],
): readonly Parameter[] | undefined {
  return signaturesOf(f).find((parameters) => {
    const least = parameters.filter((p) => !p.optional).length;
    if (names) {
      const known = names.every((n) => parameters.some((p) => p.name === n)) && new Set(names).size === names.length;
      return known && parameters.every((p) => p.optional || names.includes(p.name));
    }
    return count >= least && (f.variadic === true || count <= parameters.length);
  });
}

/** Each operator's meaning beside its checking: symbol, overloads, evaluation. */
import { add, divide, isNumber, multiply, power, subtract, type Num } from '../values/number.ts';
import { equalValues, orderValues, type Value } from '../values/value.ts';
import type { ArithmeticOperator, ComparisonOperator } from './ast.ts';
import { anyType, numberType, textType, type Type } from './types.ts';

interface Overload {
  readonly left: Type;
  readonly right: Type;
  readonly result: Type;
}

interface ArithmeticRow {
  readonly overloads: readonly Overload[];
  /** A wrong type or a division by zero gives null. */
  evaluate(a: Value, b: Value): Value;
}

const numbers: Overload = { left: numberType, right: numberType, result: numberType };
const onNumbers =
  (compute: (a: Num, b: Num) => Num | null) =>
  (a: Value, b: Value): Value =>
    isNumber(a) && isNumber(b) ? compute(a, b) : null;

/** Most characters that joining texts may give. */
const longestText = 100_000;

export const arithmetic: Readonly<Record<ArithmeticOperator, ArithmeticRow>> = {
  '+': {
    overloads: [numbers, { left: textType, right: textType, result: textType }],
    evaluate(a, b) {
      if (isNumber(a)) return isNumber(b) ? add(a, b) : null;
      if (typeof a !== 'string' || typeof b !== 'string') return null;
      return a.length + b.length > longestText ? null : a + b;
    },
  },
  '-': { overloads: [numbers], evaluate: onNumbers(subtract) },
  '*': { overloads: [numbers], evaluate: onNumbers(multiply) },
  '/': { overloads: [numbers], evaluate: onNumbers(divide) },
  '**': { overloads: [numbers], evaluate: onNumbers(power) },
};

interface ComparisonRow {
  /** Needs an order, not only equality. */
  readonly ordering: boolean;
  evaluate(a: Value, b: Value): boolean | null;
}

const ordered = (holds: (order: number) => boolean): ComparisonRow => ({
  ordering: true,
  evaluate(a, b) {
    const order = orderValues(a, b);
    return order === null ? null : holds(order);
  },
});

export const comparison: Readonly<Record<ComparisonOperator, ComparisonRow>> = {
  '=': { ordering: false, evaluate: equalValues },
  '!=': {
    ordering: false,
    evaluate(a, b) {
      const same = equalValues(a, b);
      return same === null ? null : !same;
    },
  },
  '<': ordered((o) => o < 0),
  '<=': ordered((o) => o <= 0),
  '>': ordered((o) => o > 0),
  '>=': ordered((o) => o >= 0),
};

/** The result type of an arithmetic operator for these operands; undefined when it takes none such. */
export function arithmeticType(operator: ArithmeticOperator, left: Type, right: Type): Type | undefined {
  const suits = (given: Type, wanted: Type): boolean =>
    given.kind === 'any' ||
    given.kind === 'null' ||
    given.kind === wanted.kind ||
    (wanted.kind === 'text' && given.kind === 'option');
  const found = arithmetic[operator].overloads.filter((o) => suits(left, o.left) && suits(right, o.right));
  if (found.length === 0) return undefined;
  return found.length === 1 ? found[0]!.result : anyType;
}

/** Three-valued conjunction: false wins over unknown; anything that is not a boolean is unknown. */
export function and(a: Value, b: Value): boolean | null {
  if (a === false || b === false) return false;
  return a === true && b === true ? true : null;
}

/** Three-valued disjunction: true wins over unknown. */
export function or(a: Value, b: Value): boolean | null {
  if (a === true || b === true) return true;
  return a === false && b === false ? false : null;
}

/** Each operator's meaning beside its checking: symbol, overloads, evaluation. */
import { add, divide, isNumber, multiply, power, subtract, type Num } from '../../values/number.ts';
import type { Meter } from '../../values/meter.ts';
import { equalValues, orderValues, type Value } from '../../values/value.ts';
import type { ArithmeticOperator, ComparisonOperator } from './ast.ts';
import {
  anyType,
  dateTimeType,
  dateType,
  daysType,
  numberType,
  textType,
  timeType,
  yearsType,
  type Type,
} from '../types/types.ts';
import type { ZoneOffset } from '../../values/zones.ts';
import * as temporal from './temporal-arithmetic.ts';

interface Overload {
  readonly left: Type;
  readonly right: Type;
  readonly result: Type;
}

interface ArithmeticRow {
  readonly overloads: readonly Overload[];
  /** A wrong type or a division by zero gives null. `zones`: for dates and times of named zones. */
  evaluate(a: Value, b: Value, zones?: ZoneOffset): Value;
}

const numbers: Overload = { left: numberType, right: numberType, result: numberType };
const onNumbers =
  (compute: (a: Num, b: Num) => Num | null) =>
  (a: Value, b: Value): Value =>
    isNumber(a) && isNumber(b) ? compute(a, b) : null;

const overload = (left: Type, right: Type, result: Type): Overload => ({ left, right, result });
const moved = [dateType, timeType, dateTimeType].flatMap((t) => [overload(t, daysType, t)]);
const movedByMonths = [dateType, dateTimeType].map((t) => overload(t, yearsType, t));
const swapped = (list: readonly Overload[]): Overload[] =>
  list.map(({ left, right, result }) => overload(right, left, result));
const durations = [overload(daysType, daysType, daysType), overload(yearsType, yearsType, yearsType)];
const scaled = [overload(daysType, numberType, daysType), overload(yearsType, numberType, yearsType)];

/** Most characters that joining texts may give. */
const longestText = 100_000;

export const arithmetic: Readonly<Record<ArithmeticOperator, ArithmeticRow>> = {
  '+': {
    overloads: [
      numbers,
      overload(textType, textType, textType),
      ...durations,
      ...moved,
      ...movedByMonths,
      ...swapped([...moved, ...movedByMonths]),
    ],
    evaluate(a, b, zones) {
      if (isNumber(a)) return isNumber(b) ? add(a, b) : null;
      if (typeof a !== 'string' || typeof b !== 'string') return temporal.add(a, b, zones);
      return a.length + b.length > longestText ? null : a + b;
    },
  },
  '-': {
    overloads: [
      numbers,
      ...durations,
      ...moved,
      ...movedByMonths,
      ...[dateType, dateTimeType].flatMap((a) => [dateType, dateTimeType].map((b) => overload(a, b, daysType))),
      overload(timeType, timeType, daysType),
    ],
    evaluate: (a, b, zones) => (isNumber(a) && isNumber(b) ? subtract(a, b) : temporal.subtract(a, b, zones)),
  },
  '*': {
    overloads: [numbers, ...scaled, ...swapped(scaled)],
    evaluate: (a, b) => (isNumber(a) && isNumber(b) ? multiply(a, b) : temporal.multiply(a, b)),
  },
  '/': {
    overloads: [
      numbers,
      ...scaled,
      overload(daysType, daysType, numberType),
      overload(yearsType, yearsType, numberType),
    ],
    evaluate: (a, b) => (isNumber(a) && isNumber(b) ? divide(a, b) : temporal.divide(a, b)),
  },
  '**': { overloads: [numbers], evaluate: onNumbers(power) },
};

interface ComparisonRow {
  /** Needs an order, not only equality. */
  readonly ordering: boolean;
  /** `meter`: charged for what lists hold. */
  evaluate(a: Value, b: Value, meter?: Meter): boolean | null;
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
    evaluate(a, b, meter) {
      const same = equalValues(a, b, meter);
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
  const suits = (actual: Type, wanted: Type): boolean =>
    actual.kind === 'any' ||
    actual.kind === 'null' ||
    actual.kind === wanted.kind ||
    (wanted.kind === 'text' && actual.kind === 'option');
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

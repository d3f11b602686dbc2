/** What compiled formulas run on: their environment, their budget, and the operations that need either. */
import type { Host } from '../types/host.ts';
import { DaysDuration, FeelDate, YearsDuration, dateOfDay, dayNumber } from '../../values/calendar.ts';
import { Exhausted, Meter } from '../../values/meter.ts';
import { type Num, add, compareNumbers, decimalPrice, isNumber, negate } from '../../values/number.ts';
import { FeelRange, type Value, equalValues, inRange, isList } from '../../values/value.ts';
import type { RelatedRecords } from './related.ts';

/** What a formula runs on: the record as it stands, and as it was stored before the write. */
export interface Environment {
  readonly record: readonly Value[];
  readonly previous: readonly Value[];
  readonly host?: Host;
  /** Variables of the formula, by stackIndex. */
  readonly variables?: Value[];
  /** What is charged for the work of formulas; one of the formula's own where it is absent. */
  readonly meter?: Meter;
  /** The world of the record, where it has one. */
  readonly related?: RelatedRecords;
}

export type Compiled = (env: Environment) => Value;

/** An environment in which a formula with variables and charges runs. */
export type Running = Environment & { readonly variables: Value[]; readonly meter: Meter };

export const spend = (env: Environment, steps: number): void => {
  (env as Running).meter.spend(steps);
};

/** An environment with other variables; its members are read one by one, since it may work some out when asked. */
export function withVariables(env: Environment, variables: Value[], meter = env.meter): Environment {
  const { record, previous, host, related } = env;
  return {
    record,
    previous,
    variables,
    ...(host ? { host } : {}),
    ...(related ? { related } : {}),
    ...(meter ? { meter } : {}),
  };
}

export const noHost: Host = {};

/** Gives a run its variables and its budget. What goes beyond the budget, or beyond what the host can hold, is null. */
export function bounded(run: Compiled): Compiled {
  return (env) => {
    const running =
      env.variables && env.meter ? env : withVariables(env, [...(env.variables ?? [])], env.meter ?? new Meter());
    const { meter } = running as Running;
    meter.reset();
    try {
      return run(running);
    } catch (e) {
      if (!(e instanceof Exhausted) && !(e instanceof RangeError)) throw e;
      meter.exhausted = e instanceof Exhausted ? e.of : 'steps';
      return null;
    }
  };
}

export function negated(v: Value): Value {
  if (isNumber(v)) return negate(v);
  if (v instanceof DaysDuration) return new DaysDuration(-v.nanos);
  return v instanceof YearsDuration ? new YearsDuration(0 - v.months) : null;
}

/** What stands to the right of `in`, or in a cell: a range or list to be in, or a value to be. */
export function matches(v: Value, wanted: Value, meter?: Meter): boolean | null {
  if (wanted instanceof FeelRange && !(v instanceof FeelRange)) return inRange(v, wanted);
  if (isList(wanted)) meter?.spend(wanted.length);
  if (!isList(wanted) || isList(v)) {
    if (isList(wanted) && wanted.some((item) => isList(item) && equalValues(v, item, meter) === true)) return true;
    return equalValues(v, wanted, meter);
  }
  return wanted.some((item) => (item instanceof FeelRange ? inRange(v, item) : equalValues(v, item, meter)) === true);
}

export function itemsOf(v: Value, meter: Meter): readonly Value[] | null {
  if (isList(v)) return v;
  if (v instanceof FeelRange) return v.lowIncluded && v.highIncluded ? sequence(v.low, v.high, meter) : null;
  return v === null ? null : [v];
}

/** Steps for one item of a sequence: it is made, and kept in memory. */
const itemPrice = 2;

/** `from..to`: whole numbers or days, up or down; null where the ends are neither. */
export function sequence(from: Value, to: Value, meter: Meter): readonly Value[] | null {
  const list: Value[] = [];
  if (isNumber(from) && isNumber(to)) {
    const down = compareNumbers(from, to) > 0;
    for (let n: Num = from; down ? compareNumbers(n, to) >= 0 : compareNumbers(n, to) <= 0;) {
      meter.spend(typeof n === 'number' ? itemPrice : 2 * decimalPrice);
      list.push(n);
      const next = add(n, down ? -1 : 1);
      // Beyond 34 digits one more makes no difference.
      if (next === null || compareNumbers(next, n) === 0) return null;
      n = next;
    }
    return list;
  }
  if (!(from instanceof FeelDate) || !(to instanceof FeelDate)) return null;
  const [first, last] = [dayNumber(from), dayNumber(to)];
  for (let n = first; first > last ? n >= last : n <= last; n += first > last ? -1 : 1) {
    meter.spend(2 * itemPrice);
    list.push(dateOfDay(n));
  }
  return list;
}

/** A function as a value: it keeps the variables that it was made among. Each call is charged `price` steps. */
export function closure(
  env: Running,
  stackIndex: number,
  body: Compiled,
  price: number,
): (args: readonly Value[]) => Value {
  const captured = env.variables.slice(0, stackIndex);
  const { meter } = env;
  meter.spend(stackIndex);
  return (args) => {
    meter.spend(price + captured.length + args.length);
    meter.enter();
    const result = body(withVariables(env, [...captured, ...args], meter));
    meter.leave();
    return result;
  };
}

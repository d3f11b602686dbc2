/** What compiled formulas run on: their environment, their budget, and the operations that need either. */
import type { Host } from '../functions/function.ts';
import { DaysDuration, FeelDate, YearsDuration, addDays } from '../values/calendar.ts';
import { type Num, add, compareNumbers, isNumber, negate } from '../values/number.ts';
import { FeelRange, type Value, equalValues, inRange, isList } from '../values/value.ts';
import type { RelatedWorld } from './related.ts';

/** What a formula runs on: the record as it stands, and as it was stored before the write. */
export interface Environment {
  readonly record: readonly Value[];
  readonly previous: readonly Value[];
  readonly host?: Host;
  /** Variables of the formula, by place. */
  readonly variables?: Value[];
  readonly steps?: { left: number };
  /** The world of the record, where it has one. */
  readonly related?: RelatedWorld;
}

export type Compiled = (env: Environment) => Value;

/** Steps that one run of a formula may take: items looked at, functions called. */
export const stepBudget = 1_000_000;
const deepestCalls = 200;

/** Raised where a formula has used up its steps or depth; the formula gives null. */
export class Exhausted extends Error {}

export type Running = Environment & { variables: Value[]; steps: { left: number; depth?: number } };

export function spend(env: Environment, steps: number): void {
  const { steps: budget } = env as Running;
  budget.left -= steps;
  if (budget.left < 0) throw new Exhausted();
}

export const step = (env: Environment): void => {
  spend(env, 1);
};

/** An environment with other variables; its members are read one by one, since it may work some out when asked. */
export function withVariables(env: Environment, variables: Value[], steps = env.steps): Environment {
  const { record, previous, host, related } = env;
  return {
    record,
    previous,
    variables,
    ...(host ? { host } : {}),
    ...(related ? { related } : {}),
    ...(steps ? { steps } : {}),
  };
}

export const noHost: Host = {};

/** Gives a run its variables and its budget. */
export function bounded(run: Compiled, places: number): Compiled {
  return (env) => {
    const variables = new Array<Value>(places).fill(null);
    env.variables?.forEach((v, i) => (variables[i] = v));
    try {
      return run(withVariables(env, variables, { left: stepBudget }));
    } catch (e) {
      if (e instanceof Exhausted || e instanceof RangeError) return null;
      throw e;
    }
  };
}

export function negated(v: Value): Value {
  if (isNumber(v)) return negate(v);
  if (v instanceof DaysDuration) return new DaysDuration(-v.nanos);
  return v instanceof YearsDuration ? new YearsDuration(0 - v.months) : null;
}

/** What stands to the right of `in`, or in a cell: a range or list to be in, or a value to be. */
export function matches(v: Value, given: Value): boolean | null {
  if (given instanceof FeelRange && !(v instanceof FeelRange)) return inRange(v, given);
  if (!isList(given) || isList(v)) {
    if (isList(given) && given.some((item) => isList(item) && equalValues(v, item) === true)) return true;
    return equalValues(v, given);
  }
  return given.some((item) => (item instanceof FeelRange ? inRange(v, item) : equalValues(v, item)) === true);
}

export function itemsOf(v: Value): readonly Value[] | null {
  if (isList(v)) return v;
  if (v instanceof FeelRange) return v.lowIncluded && v.highIncluded ? sequence(v.low, v.high) : null;
  return v === null ? null : [v];
}

/** `from..to`: whole numbers or days, up or down; null where the ends are neither. */
export function sequence(from: Value, to: Value): readonly Value[] | null {
  const list: Value[] = [];
  const enough = (): void => {
    if (list.length > stepBudget) throw new Exhausted();
  };
  if (isNumber(from) && isNumber(to)) {
    const down = compareNumbers(from, to) > 0;
    for (
      let n: Num | null = from;
      n !== null && (down ? compareNumbers(n, to) >= 0 : compareNumbers(n, to) <= 0);
      n = add(n, down ? -1 : 1)
    ) {
      enough();
      list.push(n);
    }
    return list;
  }
  if (!(from instanceof FeelDate) || !(to instanceof FeelDate)) return null;
  const order = (d: FeelDate): number => d.year * 372 + d.month * 31 + d.day;
  const down = order(from) > order(to);
  for (
    let d: FeelDate | null = from;
    d && (down ? order(d) >= order(to) : order(d) <= order(to));
    d = addDays(d, down ? -1 : 1)
  ) {
    enough();
    list.push(d);
  }
  return list;
}

/** A function as a value: it keeps the variables that it was made among. */
export function closure(env: Running, place: number, body: Compiled): (given: readonly Value[]) => Value {
  const captured = env.variables.slice(0, place);
  return (given) => {
    const { steps } = env;
    if (--steps.left < 0) throw new Exhausted();
    steps.depth = (steps.depth ?? 0) + 1;
    if (steps.depth > deepestCalls) throw new Exhausted();
    const variables = [...captured, ...given];
    const result = body(withVariables(env, variables));
    steps.depth--;
    return result;
  };
}

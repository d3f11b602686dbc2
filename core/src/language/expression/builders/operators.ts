/** Arithmetic, comparisons, logic and unary tests. */
import { decimalPrice } from '../../../values/number.ts';
import { FeelRange, type Value, inRange } from '../../../values/value.ts';
import type {
  Arithmetic,
  Between,
  Comparison,
  Conditional,
  Expression,
  Junction,
  Membership,
  Negation,
  UnaryTest,
} from '../ast.ts';
import { and, arithmetic, comparison, or } from '../operators.ts';
import { type Environment, matches, negated, spend } from '../runtime.ts';
import type { Builder, Building } from './building.ts';

export const negation: Builder<Negation> = (e, building) => {
  const operand = building.build(e.operand);
  return (env) => negated(operand(env));
};

export const calculation: Builder<Arithmetic> = (e, building) => {
  const [left, right, { evaluate }] = [building.build(e.left), building.build(e.right), arithmetic[e.operator]];
  const { metered } = building;
  // Where both sides are numbers nothing else is asked for.
  if (!metered && building.typeOf(e.left)?.kind === 'number' && building.typeOf(e.right)?.kind === 'number')
    return (env) => evaluate(left(env), right(env));
  if (!metered) return (env) => evaluate(left(env), right(env), env.host?.zoneOffset);
  return (env) => {
    const v = evaluate(left(env), right(env), env.host?.zoneOffset);
    // A decimal of many digits, a date or a duration: the slow path.
    if (typeof v === 'object') spend(env, decimalPrice);
    else if (typeof v === 'string') spend(env, v.length >> 3);
    return v;
  };
};

export const compared: Builder<Comparison> = (e, building) => {
  const [left, right] = [building.build(e.left), building.build(e.right)];
  const { evaluate, ordering } = comparison[e.operator];
  if (!ordering || !(building.optionsOf(e.left) ?? building.optionsOf(e.right))) {
    if (!building.metered) return (env) => evaluate(left(env), right(env));
    return (env) => evaluate(left(env), right(env), env.meter);
  }
  const ranked = building.toCompare(e.left, e.right);
  return (env) => evaluate(ranked(left(env)), ranked(right(env)));
};

export const between: Builder<Between> = (e, building) => {
  const [operand, low, high] = [building.build(e.operand), building.build(e.low), building.build(e.high)];
  const ranked = building.toCompare(e.operand, e.low, e.high);
  return (env) => {
    const v = ranked(operand(env));
    return and(comparison['>='].evaluate(v, ranked(low(env))), comparison['<='].evaluate(v, ranked(high(env))));
  };
};

/** What is decided by its left side leaves its right side alone. */
export const junction: Builder<Junction> = (e, building) => {
  const [left, right] = [building.build(e.left), building.build(e.right)];
  if (e.kind === 'and')
    return (env) => {
      const a = left(env);
      return a === false ? false : and(a, right(env));
    };
  return (env) => {
    const a = left(env);
    return a === true ? true : or(a, right(env));
  };
};

export const conditional: Builder<Conditional> = (e, building) => {
  const [condition, then, otherwise] = [
    building.build(e.condition),
    building.build(e.then),
    building.build(e.otherwise),
  ];
  return (env) => (condition(env) === true ? then(env) : otherwise(env));
};

export const membership: Builder<Membership> = (e, building) => {
  const operand = building.build(e.operand);
  const fits = anyOf(e.tests.map((t) => unaryTest(t, building, e.operand)));
  return (env) => fits(operand(env), env);
};

export type Test = (v: Value, env: Environment) => boolean | null;

/** Whether a value fits one of them: true as soon as one says so. */
export const anyOf =
  (tests: readonly Test[]): Test =>
  (v, env) =>
    tests.reduce<boolean | null>((so, test) => (so === true ? true : or(so, test(v, env))), false);

/** `operand`: what is tested, where that is an expression and not the value that is called `?`. */
export function unaryTest(t: UnaryTest, building: Building, operand?: Expression): Test {
  const sides = operand ? [operand] : [];
  if (t.kind === 'compare') {
    const value = building.build(t.value);
    const { evaluate, ordering } = comparison[t.operator];
    const ranked = ordering ? building.toCompare(...sides, t.value) : (v: Value): Value => v;
    const { metered } = building;
    return (v, env) => evaluate(ranked(v), ranked(value(env)), metered ? env.meter : undefined);
  }
  if (t.kind === 'interval') {
    const [low, high] = [building.build(t.low), building.build(t.high)];
    const ranked = building.toCompare(...sides, t.low, t.high);
    const { lowIncluded, highIncluded } = t;
    return (v, env) => {
      const [from, to] = [ranked(low(env)), ranked(high(env))];
      return from === null || to === null
        ? null
        : inRange(ranked(v), new FeelRange(from, to, lowIncluded, highIncluded));
    };
  }
  const value = building.build(t.value);
  // A test that names `?` is a condition of its own.
  const isCondition = !operand && building.typeOf(t.value)?.kind === 'boolean' && t.value.kind !== 'literal';
  const { metered } = building;
  return (v, env) => {
    const result = value(env);
    if (isCondition) return typeof result === 'boolean' ? result : null;
    return matches(v, result, metered ? env.meter : undefined);
  };
}

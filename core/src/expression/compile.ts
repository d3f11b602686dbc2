/** Typed tree to closures over the slots of a record. No code is generated, so no `unsafe-eval` is needed. */
import { findFunction } from '../functions/index.ts';
import { isNumber, negate } from '../values/number.ts';
import { equalValues, orderValues, type Value } from '../values/value.ts';
import type { Comparison, Expression, UnaryTest } from './ast.ts';
import type { Checked } from './check.ts';
import { and, arithmetic, comparison, or } from './operators.ts';
import { previousName, type Scope } from './scope.ts';
import type { Type } from './types.ts';

/** What a formula runs on: the record as it stands, and as it was stored before the write. */
export interface Environment {
  readonly record: readonly Value[];
  readonly previous: readonly Value[];
}

export type Compiled = (env: Environment) => Value;

/** Compiles a tree that was checked without errors in the same scope. */
export function compile(expression: Expression, checked: Checked, scope: Scope): Compiled {
  const typeOf = (e: Expression): Type => checked.types.get(e)!;

  const build = (e: Expression): Compiled => {
    switch (e.kind) {
      case 'literal': {
        const { value } = e;
        return () => value;
      }
      case 'name': {
        const { slot } = scope.fields.get(e.name)!;
        return (env) => env.record[slot] as Value;
      }
      case 'path': {
        const { slot } = scope.fields.get(e.name)!;
        if (e.object.kind !== 'name' || e.object.name !== previousName) throw new Error('unchecked path');
        return (env) => env.previous[slot] as Value;
      }
      case 'negation': {
        const operand = build(e.operand);
        return (env) => {
          const v = operand(env);
          return isNumber(v) ? negate(v) : null;
        };
      }
      case 'arithmetic': {
        const [left, right, { evaluate }] = [build(e.left), build(e.right), arithmetic[e.operator]];
        return (env) => evaluate(left(env), right(env));
      }
      case 'comparison':
        return buildComparison(e);
      case 'between': {
        const [operand, low, high] = [build(e.operand), build(e.low), build(e.high)];
        const ranked = toCompare(e.operand, e.low, e.high);
        return (env) => {
          const v = ranked(operand(env));
          return and(comparison['>='].evaluate(v, ranked(low(env))), comparison['<='].evaluate(v, ranked(high(env))));
        };
      }
      case 'and': {
        const [left, right] = [build(e.left), build(e.right)];
        return (env) => {
          const a = left(env);
          return a === false ? false : and(a, right(env));
        };
      }
      case 'or': {
        const [left, right] = [build(e.left), build(e.right)];
        return (env) => {
          const a = left(env);
          return a === true ? true : or(a, right(env));
        };
      }
      case 'if': {
        const [condition, then, otherwise] = [build(e.condition), build(e.then), build(e.otherwise)];
        return (env) => (condition(env) === true ? then(env) : otherwise(env));
      }
      case 'list': {
        const items = e.items.map(build);
        return (env) => items.map((item) => item(env));
      }
      case 'in': {
        const operand = build(e.operand);
        const tests = e.tests.map((t) => buildTest(t, e.operand));
        return (env) => {
          const v = operand(env);
          return tests.reduce<boolean | null>((so, test) => (so === true ? true : or(so, test(v, env))), false);
        };
      }
      case 'call': {
        const { evaluate } = findFunction(e.name)!;
        const given = e.arguments.map(build);
        if (given.length === 1) {
          const [only] = given as [Compiled];
          return (env) => evaluate([only(env)]);
        }
        return (env) => evaluate(given.map((g) => g(env)));
      }
    }
  };

  /** Ordered options compare by their rank, texts and numbers as they are: what to compare instead of the values. */
  const toCompare = (...sides: readonly Expression[]): ((v: Value) => Value) => {
    const rank = sides.map(typeOf).find((t) => t.kind === 'option' && t.options.order);
    if (rank?.kind !== 'option') return (v) => v;
    const order = rank.options.order!;
    return (v) => (typeof v === 'string' ? (order.get(v) ?? null) : null);
  };

  const buildComparison = (e: Comparison): Compiled => {
    const [left, right] = [build(e.left), build(e.right)];
    const { evaluate, ordering } = comparison[e.operator];
    if (!ordering || ![e.left, e.right].some(isRanked)) return (env) => evaluate(left(env), right(env));
    const ranked = toCompare(e.left, e.right);
    return (env) => evaluate(ranked(left(env)), ranked(right(env)));
  };

  const isRanked = (e: Expression): boolean => {
    const type = typeOf(e);
    return type.kind === 'option' && type.options.order !== null;
  };

  const buildTest = (t: UnaryTest, operand: Expression): ((v: Value, env: Environment) => boolean | null) => {
    if (t.kind === 'compare') {
      const value = build(t.value);
      const { evaluate, ordering } = comparison[t.operator];
      const ranked = ordering ? toCompare(operand, t.value) : (v: Value): Value => v;
      return (v, env) => evaluate(ranked(v), ranked(value(env)));
    }
    if (t.kind === 'interval') {
      const [low, high] = [build(t.low), build(t.high)];
      const ranked = toCompare(operand, t.low, t.high);
      return (v, env) => inInterval(ranked(v), ranked(low(env)), t.lowIncluded, ranked(high(env)), t.highIncluded);
    }
    const value = build(t.value);
    return (v, env) => {
      const given = value(env);
      if (!Array.isArray(given) || Array.isArray(v)) return equalValues(v, given);
      return (given as readonly Value[]).some((item) => equalValues(v, item) === true);
    };
  };

  return build(expression);
}

function inInterval(v: Value, low: Value, lowIncluded: boolean, high: Value, highIncluded: boolean): boolean | null {
  const [above, below] = [orderValues(v, low), orderValues(v, high)];
  if (above === null || below === null) return null;
  return (above > 0 || (lowIncluded && above === 0)) && (below < 0 || (highIncluded && below === 0));
}

/** Typed tree to closures over the slots of a record. No code is generated, so no `unsafe-eval` is needed. */
import { type Builder, Building } from './builders/building.ts';
import { call } from './builders/call.ts';
import { filter } from './builders/filter.ts';
import { loop } from './builders/loop.ts';
import * as operators from './builders/operators.ts';
import * as values from './builders/values.ts';
import type { Expression, UnaryTest } from './ast.ts';
import type { Checked } from './checked.ts';
import { isPlain } from './price.ts';
import { type Compiled, bounded } from './runtime.ts';

/** How an expression of each kind becomes a closure. */
const builders: { readonly [K in Expression['kind']]: Builder<Extract<Expression, { readonly kind: K }>> } = {
  literal: values.literal,
  name: values.name,
  path: values.path,
  list: values.list,
  range: values.range,
  context: values.context,
  function: values.functionDefinition,
  'instance of': values.instance,
  negation: operators.negation,
  arithmetic: operators.calculation,
  comparison: operators.compared,
  between: operators.between,
  and: operators.junction,
  or: operators.junction,
  if: operators.conditional,
  in: operators.membership,
  call,
  for: loop,
  some: loop,
  every: loop,
  filter,
};

const build: Builder = (e, building) => (builders[e.kind] as Builder)(e, building);

/** Compiles a tree that was checked in the same scope. Where types are wrong it gives null, as DMN has it. */
export function compile(expression: Expression, checked: Checked, variables = 0): Compiled {
  const plain = isPlain(expression, checked);
  const run = new Building(checked, variables, !plain, build).build(expression);
  return plain ? run : bounded(run);
}

/**
 * Unary tests as one closure; `?`, the value that is tested, is the first variable. They run on the budget of whoever
 * asks (`bounded` gives them one of their own): a table is one question, however many of its cells hold tests.
 */
export function compileTests(tests: readonly UnaryTest[], negated: boolean, checked: Omit<Checked, 'type'>): Compiled {
  const building = new Building(checked, 1, true, build);
  const fits = operators.anyOf(tests.map((t) => operators.unaryTest(t, building)));
  return (env) => {
    if (tests.length === 0) return true;
    const any = fits(env.variables![0]!, env);
    return negated ? (any === null ? null : !any) : any;
  };
}

/** Syntax tree to typed tree: every name resolved, every type worked out, every mistake reported with its range. */
import { literalType } from '../types/literal-type.ts';
import { type Type, anyType, booleanType } from '../types/types.ts';
import type { Expression, UnaryTest } from './ast.ts';
import type { Checked, Variable } from './checked.ts';
import { call } from './checkers/call.ts';
import { type Checker, Checking } from './checkers/checking.ts';
import * as lists from './checkers/lists.ts';
import { path, plainName } from './checkers/names.ts';
import * as operators from './checkers/operators.ts';
import type { Scope } from './scope.ts';

/** How an expression of each kind is checked. */
const checkers: { readonly [K in Expression['kind']]: Checker<Extract<Expression, { readonly kind: K }>> } = {
  literal: (e) => literalType(e.value),
  name: plainName,
  path,
  list: lists.list,
  range: operators.range,
  context: lists.context,
  function: lists.functionDefinition,
  'instance of': (e, checking) => {
    checking.infer(e.operand);
    return booleanType;
  },
  negation: operators.negation,
  arithmetic: operators.calculation,
  comparison: operators.compared,
  between: operators.between,
  and: operators.junction,
  or: operators.junction,
  if: operators.conditional,
  in: operators.membership,
  call,
  for: lists.forLoop,
  some: lists.quantified,
  every: lists.quantified,
  filter: lists.filter,
};

const checkAny: Checker = (e, checking) => (checkers[e.kind] as Checker)(e, checking);

export function check(expression: Expression, scope: Scope, variables: readonly Variable[] = []): Checked {
  const checking = new Checking(scope, variables, checkAny);
  const type = checking.infer(expression);
  return { type, ...checking.found() };
}

/** Unary tests: `?` is the value that they test. */
export function checkTests(tests: readonly UnaryTest[], scope: Scope, tested: Type = anyType): Omit<Checked, 'type'> {
  const checking = new Checking(scope, [{ name: '?', type: tested }], checkAny);
  for (const test of tests) operators.unaryTest(checking, tested, test);
  return checking.found();
}

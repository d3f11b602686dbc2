/** What parts of formulas cost, in steps of the budget, and which formulas need none. */
import { decimalPrice } from '../../values/number.ts';
import { isConstantWork } from '../functions/function.ts';
import { findFunction } from '../functions/index.ts';
import { type Expression, childrenOf, walk } from './ast.ts';
import type { Checked, Meaning } from './checked.ts';

/** Expressions that keep variables, or may call a function that is a value: they need a stack and a budget. */
const needing: ReadonlySet<Expression['kind']> = new Set([
  'for',
  'some',
  'every',
  'filter',
  'context',
  'function',
  'instance of',
]);

/**
 * Whether a tree goes without variables and charges: no list that is not written out, no function whose work grows with
 * its arguments. Most formulas are such, and a text of limited length cannot hold enough of these to take long.
 */
export function isPlain(expression: Expression, { meanings, types }: Omit<Checked, 'type'>): boolean {
  let plain = true;
  walk(expression, (e) => {
    const meaning = meanings.get(e)?.kind;
    if (needing.has(e.kind) || (meaning !== undefined && !constantMeanings.has(meaning))) plain = false;
    if (e.kind === 'call') {
      const found = e.callee || (meaning !== undefined && meaning !== 'unknown') ? undefined : findFunction(e.name);
      if (!found || !(found.onField || isConstantWork(found))) plain = false;
    }
    if (e.kind === 'path' && !meaning && types.get(e.object)?.kind !== 'record') plain = false;
    if (e.kind === 'arithmetic' && e.operator === '**') plain = false;
  });
  return plain;
}

const constantMeanings: ReadonlySet<Meaning['kind']> = new Set(['field', 'self', 'origin', 'user', 'unknown']);

/** Steps that a node is charged inside a loop or a function: what it does itself, without what stands in it. */
function priceOf(e: Expression): number {
  switch (e.kind) {
    case 'arithmetic':
      return e.operator === '**' ? 20 * decimalPrice : e.operator === '/' ? decimalPrice : 3;
    case 'comparison':
    case 'between':
    case 'in':
    case 'path':
      return 4;
    default:
      return 1;
  }
}

/** Steps of one run of a loop's body; loops and functions in it charge for themselves. */
export function bodyPrice(e: Expression): number {
  if (e.kind === 'for' || e.kind === 'some' || e.kind === 'every' || e.kind === 'function') return 2;
  if (e.kind === 'filter') return 2 + bodyPrice(e.object);
  return childrenOf(e).reduce((sum, child) => sum + bodyPrice(child), priceOf(e));
}

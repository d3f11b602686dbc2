/** The syntax tree of a formula: plain data, every node with its range in the text. */
import type { TextRange } from '../../diagnostics/catalog.ts';
import type { Num } from '../../values/number.ts';
import type { Temporal } from '../../values/calendar.ts';

export type ComparisonOperator = '=' | '!=' | '<' | '<=' | '>' | '>=';
export type ArithmeticOperator = '+' | '-' | '*' | '/' | '**';

interface Node<K extends string> {
  readonly kind: K;
  readonly range: TextRange;
}

export interface Literal extends Node<'literal'> {
  readonly value: null | boolean | Num | string | Temporal;
}
/** A name as it is meant: parts joined by single spaces, whatever stood between them. */
export interface Name extends Node<'name'> {
  readonly name: string;
}
export interface Path extends Node<'path'> {
  readonly object: Expression;
  readonly name: string;
  readonly nameRange: TextRange;
}
export interface Arithmetic extends Node<'arithmetic'> {
  readonly operator: ArithmeticOperator;
  readonly operatorRange: TextRange;
  readonly left: Expression;
  readonly right: Expression;
}
export interface Negation extends Node<'negation'> {
  readonly operand: Expression;
}
export interface Comparison extends Node<'comparison'> {
  readonly operator: ComparisonOperator;
  readonly operatorRange: TextRange;
  readonly left: Expression;
  readonly right: Expression;
}
export interface Between extends Node<'between'> {
  readonly operand: Expression;
  readonly low: Expression;
  readonly high: Expression;
}
export interface Junction extends Node<'and' | 'or'> {
  readonly left: Expression;
  readonly right: Expression;
}
export interface Conditional extends Node<'if'> {
  readonly condition: Expression;
  readonly then: Expression;
  readonly otherwise: Expression;
}
export interface Call extends Node<'call'> {
  /** Empty where `callee` is an expression that gives a function. */
  readonly name: string;
  readonly nameRange: TextRange;
  readonly callee?: Expression;
  readonly arguments: readonly Expression[];
  /** Parameter names, in the order of the arguments, where the call gives them. */
  readonly names?: readonly string[];
}
/** A variable and what it runs over: a list, or the numbers or dates from `domain` to `end`. */
export interface Iterator {
  readonly name: string;
  readonly domain: Expression;
  readonly end?: Expression;
}
export interface For extends Node<'for'> {
  readonly iterators: readonly Iterator[];
  readonly body: Expression;
}
export interface Quantified extends Node<'some' | 'every'> {
  readonly iterators: readonly Iterator[];
  readonly body: Expression;
}
export interface Filter extends Node<'filter'> {
  readonly object: Expression;
  readonly condition: Expression;
}
export interface Context extends Node<'context'> {
  readonly entries: readonly { readonly key: string; readonly keyRange: TextRange; readonly value: Expression }[];
}
export interface FunctionDefinition extends Node<'function'> {
  readonly parameters: readonly string[];
  readonly body: Expression;
}
export interface InstanceOf extends Node<'instance of'> {
  readonly operand: Expression;
  /** The type as it is written, parts joined by single spaces. */
  readonly type: string;
}
/** A range as a value. */
export interface Range extends Node<'range'> {
  readonly low: Expression;
  readonly high: Expression;
  readonly lowIncluded: boolean;
  readonly highIncluded: boolean;
}
export interface List extends Node<'list'> {
  readonly items: readonly Expression[];
}
export interface Membership extends Node<'in'> {
  readonly operand: Expression;
  readonly tests: readonly UnaryTest[];
}

export type Expression =
  | Literal
  | Name
  | Path
  | Arithmetic
  | Negation
  | Comparison
  | Between
  | Junction
  | Conditional
  | Call
  | List
  | Membership
  | For
  | Quantified
  | Filter
  | Context
  | FunctionDefinition
  | InstanceOf
  | Range;

/** One positive unary test: what stands to the right of `in`. */
export type UnaryTest =
  | {
      readonly kind: 'compare';
      readonly range: TextRange;
      readonly operator: ComparisonOperator;
      readonly value: Expression;
    }
  | {
      readonly kind: 'interval';
      readonly range: TextRange;
      readonly low: Expression;
      readonly high: Expression;
      readonly lowIncluded: boolean;
      readonly highIncluded: boolean;
    }
  | { readonly kind: 'equal'; readonly range: TextRange; readonly value: Expression };

/** Calls `visit` for each expression in the tree, parents first. */
export function walk(e: Expression, visit: (e: Expression) => void): void {
  visit(e);
  for (const child of childrenOf(e)) walk(child, visit);
}

/** The expressions directly inside another, in the order of the text. */
export function childrenOf(e: Expression): readonly Expression[] {
  switch (e.kind) {
    case 'literal':
    case 'name':
      return [];
    case 'path':
      return [e.object];
    case 'arithmetic':
    case 'comparison':
    case 'and':
    case 'or':
      return [e.left, e.right];
    case 'negation':
      return [e.operand];
    case 'between':
      return [e.operand, e.low, e.high];
    case 'if':
      return [e.condition, e.then, e.otherwise];
    case 'call':
      return e.callee ? [e.callee, ...e.arguments] : e.arguments;
    case 'for':
    case 'some':
    case 'every':
      return [...e.iterators.flatMap((i) => (i.end ? [i.domain, i.end] : [i.domain])), e.body];
    case 'filter':
      return [e.object, e.condition];
    case 'context':
      return e.entries.map((entry) => entry.value);
    case 'function':
      return [e.body];
    case 'instance of':
      return [e.operand];
    case 'range':
      return [e.low, e.high];
    case 'list':
      return e.items;
    case 'in':
      return [e.operand, ...e.tests.flatMap((t) => (t.kind === 'interval' ? [t.low, t.high] : [t.value]))];
  }
}

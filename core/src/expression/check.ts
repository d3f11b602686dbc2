/** Syntax tree to typed tree: every name resolved, every type worked out, every mistake reported with its range. */
import { diagnostic, type Diagnostic, type TextRange } from '../diagnostics/catalog.ts';
import { nearestName } from '../diagnostics/nearest.ts';
import type { OptionSet } from '../field-types/field-type.ts';
import { findFunction, functionNames } from '../functions/index.ts';
import {
  walk,
  type Call,
  type Comparison,
  type Expression,
  type Membership,
  type Path,
  type UnaryTest,
} from './ast.ts';
import { arithmeticType, comparison } from './operators.ts';
import { previousName, type FieldBinding, type Scope } from './scope.ts';
import {
  anyType,
  booleanType,
  fits,
  join,
  listOf,
  nullType,
  numberType,
  textType,
  typeName,
  type Type,
} from './types.ts';

/** A field that a formula reads; `previous` when it is the value stored before the write. */
export interface Read {
  readonly field: FieldBinding;
  readonly previous: boolean;
  readonly range: TextRange;
}

export interface Checked {
  readonly type: Type;
  readonly types: ReadonlyMap<Expression, Type>;
  readonly reads: readonly Read[];
  readonly diagnostics: readonly Diagnostic[];
}

export function check(expression: Expression, scope: Scope): Checked {
  const checker = new Checker(scope);
  const type = checker.infer(expression);
  return { type, types: checker.types, reads: checker.reads, diagnostics: checker.diagnostics };
}

class Checker {
  readonly types = new Map<Expression, Type>();
  readonly reads: Read[] = [];
  readonly diagnostics: Diagnostic[] = [];
  private readonly scope: Scope;

  constructor(scope: Scope) {
    this.scope = scope;
  }

  infer(e: Expression): Type {
    const type = this.typeOf(e);
    this.types.set(e, type);
    return type;
  }

  private report(code: Parameters<typeof diagnostic>[0], range: TextRange, data: Diagnostic['data'] = {}): Type {
    this.diagnostics.push(diagnostic(code, range, data));
    return anyType;
  }

  private typeOf(e: Expression): Type {
    switch (e.kind) {
      case 'literal':
        return literalType(e.value);
      case 'name':
        return this.name(e.name, e.range, this.scope.fields.get(e.name), false);
      case 'path':
        return this.path(e);
      case 'negation':
        return this.operand(e.operand, numberType, '-');
      case 'arithmetic': {
        const [left, right] = [this.infer(e.left), this.infer(e.right)];
        const data = { operator: e.operator, left: typeName(left), right: typeName(right) };
        return arithmeticType(e.operator, left, right) ?? this.report('type.operands', e.range, data);
      }
      case 'comparison':
        return this.comparison(e);
      case 'between': {
        const operand = this.infer(e.operand);
        for (const bound of [e.low, e.high]) this.comparable(operand, this.infer(bound), '<=', bound.range, bound);
        return booleanType;
      }
      case 'and':
      case 'or':
        this.operand(e.left, booleanType, e.kind);
        this.operand(e.right, booleanType, e.kind);
        return booleanType;
      case 'if':
        this.operand(e.condition, booleanType, 'if');
        return join(this.infer(e.then), this.infer(e.otherwise));
      case 'list':
        return listOf(e.items.map((item) => this.infer(item)).reduce(join, nullType));
      case 'in':
        return this.membership(e);
      case 'call':
        return this.call(e);
    }
  }

  private operand(e: Expression, wanted: Type, operator: string): Type {
    const given = this.infer(e);
    if (fits(given, wanted)) return wanted;
    return this.report('type.operand', e.range, { operator, left: typeName(given) });
  }

  private name(name: string, range: TextRange, binding: FieldBinding | undefined, previous: boolean): Type {
    if (!binding) {
      const nearest = nearestName(name, this.scope.fields.keys());
      return this.report('name.unknown', range, nearest ? { name, nearest } : { name });
    }
    this.reads.push({ field: binding, previous, range });
    return binding.type;
  }

  private path(e: Path): Type {
    if (e.object.kind !== 'name' || e.object.name !== previousName)
      return e.object.kind === 'path' && startsAtPrevious(e.object)
        ? this.report('name.previous-path', e.nameRange)
        : this.report('syntax.unsupported', e.nameRange, { what: 'A path' });
    return this.name(e.name, e.nameRange, this.scope.fields.get(e.name), true);
  }

  private comparison(e: Comparison): Type {
    const [left, right] = [this.infer(e.left), this.infer(e.right)];
    if (e.left.kind === 'name' && e.right.kind === 'name' && e.left.name === e.right.name)
      return this.report('compare.itself', e.range, { name: e.left.name });
    this.comparable(left, right, e.operator, e.range, e.right);
    this.optionText(right, e.left);
    return booleanType;
  }

  /** Whether two types compare; `value` is the right operand, whose text is held against the left one's options. */
  private comparable(
    left: Type,
    right: Type,
    operator: Comparison['operator'],
    range: TextRange,
    value: Expression,
  ): void {
    this.optionText(left, value);
    const { ordering } = comparison[operator];
    for (const side of [left, right])
      if (ordering && side.kind === 'option' && !side.options.order)
        return void this.report('option.unordered', range, { field: side.options.field });
    const alike = fits(left, right) || fits(right, left);
    const orderless = ordering && [left, right].some((t) => t.kind === 'boolean' || t.kind === 'list');
    if (!alike || orderless)
      this.report('type.operands', range, { operator, left: typeName(left), right: typeName(right) });
  }

  /** A text literal compared with a picklist must be one of its options. */
  private optionText(type: Type, e: Expression): void {
    const options = optionsOf(type);
    if (!options || e.kind !== 'literal' || typeof e.value !== 'string' || options.names.includes(e.value)) return;
    const nearest = nearestName(e.value, options.names);
    const data = { field: options.field, option: e.value };
    this.report('option.unknown', e.range, nearest ? { ...data, nearest } : data);
  }

  private membership(e: Membership): Type {
    const operand = this.infer(e.operand);
    for (const test of e.tests) this.unaryTest(operand, test);
    return booleanType;
  }

  private unaryTest(operand: Type, test: UnaryTest): void {
    if (test.kind === 'interval') {
      for (const bound of [test.low, test.high]) this.comparable(operand, this.infer(bound), '<=', bound.range, bound);
      return;
    }
    const given = this.infer(test.value);
    if (test.kind === 'equal' && given.kind === 'list') {
      if (test.value.kind === 'list') for (const item of test.value.items) this.optionText(operand, item);
      if (!fits(given.item, operand) && !fits(operand, given.item))
        this.report('type.operands', test.range, { operator: 'in', left: typeName(operand), right: typeName(given) });
      return;
    }
    this.comparable(operand, given, test.kind === 'compare' ? test.operator : '=', test.range, test.value);
  }

  private call(e: Call): Type {
    const given = e.arguments.map((a) => this.infer(a));
    const found = findFunction(e.name);
    if (!found) {
      const nearest = nearestName(e.name, functionNames);
      return this.report('name.unknown-function', e.nameRange, nearest ? { name: e.name, nearest } : { name: e.name });
    }
    const wanted = found.parameters;
    const right = found.variadic ? given.length >= wanted.length : given.length === wanted.length;
    if (!right) {
      const expected = `${found.variadic ? 'at least ' : ''}${wanted.map((p) => p.name).join(', ')}`;
      return this.report('call.count', e.range, { function: e.name, expected });
    }
    given.forEach((type, i) => {
      const parameter = wanted[Math.min(i, wanted.length - 1)]!;
      if (fits(type, parameter.type)) return;
      const data = { function: e.name, expected: typeName(parameter.type), found: typeName(type) };
      this.report('type.argument', e.arguments[i]!.range, data);
    });
    return typeof found.result === 'function' ? found.result(given) : found.result;
  }
}

function literalType(v: null | boolean | string | object | number): Type {
  if (v === null) return nullType;
  if (typeof v === 'boolean') return booleanType;
  return typeof v === 'string' ? textType : numberType;
}

function optionsOf(t: Type): OptionSet | undefined {
  return t.kind === 'option' ? t.options : undefined;
}

function startsAtPrevious(e: Path): boolean {
  let found = false;
  walk(e, (inner) => {
    if (inner.kind === 'name' && inner.name === previousName) found = true;
  });
  return found;
}

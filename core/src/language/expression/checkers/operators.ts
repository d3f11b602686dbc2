/** Operators, comparisons, conditions and unary tests. */
import type { TextRange } from '../../../diagnostics/catalog.ts';
import { nearestName } from '../../../diagnostics/nearest.ts';
import { type Type, booleanType, fits, join, numberType, rangeType, typeName } from '../../types/types.ts';
import type {
  Arithmetic,
  Between,
  Comparison,
  Conditional,
  Expression,
  Junction,
  Membership,
  Negation,
  Range,
  UnaryTest,
} from '../ast.ts';
import { parseDate } from '../../../values/calendar.ts';
import { arithmeticType, comparison } from '../operators.ts';
import type { Checker, Checking } from './checking.ts';

export const negation: Checker<Negation> = (e, checking) => {
  const actual = checking.infer(e.operand);
  if (actual.kind === 'days' || actual.kind === 'years' || actual.kind === 'any') return actual;
  if (fits(actual, numberType)) return numberType;
  return checking.report('type.operand', e.range, { operator: '-', left: typeName(actual) });
};

export const calculation: Checker<Arithmetic> = (e, checking) => {
  const [left, right] = [checking.infer(e.left), checking.infer(e.right)];
  const found = arithmeticType(e.operator, left, right);
  if (found) return found;
  const data = { operator: e.operator, left: typeName(left), right: typeName(right) };
  const days = daysMeant(e, left, right);
  if (days) return checking.report('type.operands', e.right.range, { ...data, nearest: days });
  return checking.report('type.operands', e.range, data);
};

/** `duration("P14D")` for the 14 of `today() + 14`; undefined where no number of days is meant. */
function daysMeant({ operator, right }: Arithmetic, of: Type, by: Type): string | undefined {
  const isDay = of.kind === 'date' || of.kind === 'date time';
  if (!isDay || by.kind !== 'number' || (operator !== '+' && operator !== '-')) return undefined;
  const isWhole = right.kind === 'literal' && typeof right.value === 'number' && Number.isInteger(right.value);
  return isWhole ? `duration("P${String(right.value)}D")` : undefined;
}

export const compared: Checker<Comparison> = (e, checking) => {
  const [left, right] = [checking.infer(e.left), checking.infer(e.right)];
  if (e.left.kind === 'name' && e.right.kind === 'name' && e.left.name === e.right.name)
    return checking.report('compare.itself', e.range, { name: e.left.name });
  comparable(checking, left, right, e.operator, e.range, e.right);
  optionText(checking, right, e.left);
  return booleanType;
};

export const between: Checker<Between> = (e, checking) => {
  const operand = checking.infer(e.operand);
  for (const bound of [e.low, e.high]) comparable(checking, operand, checking.infer(bound), '<=', bound.range, bound);
  return booleanType;
};

export const junction: Checker<Junction> = (e, checking) => {
  requireBoolean(checking, e.left, e.kind);
  requireBoolean(checking, e.right, e.kind);
  return booleanType;
};

export const conditional: Checker<Conditional> = (e, checking) => {
  requireBoolean(checking, e.condition, 'if');
  return join(checking.infer(e.then), checking.infer(e.otherwise));
};

function requireBoolean(checking: Checking, e: Expression, operator: string): void {
  const actual = checking.infer(e);
  if (!fits(actual, booleanType)) checking.report('type.operand', e.range, { operator, left: typeName(actual) });
}

export const range: Checker<Range> = (e, checking) => {
  const [low, high] = [checking.infer(e.low), checking.infer(e.high)];
  comparable(checking, low, high, '<=', e.range, e.high);
  return rangeType;
};

export const membership: Checker<Membership> = (e, checking) => {
  const operand = checking.infer(e.operand);
  for (const test of e.tests) unaryTest(checking, operand, test);
  return booleanType;
};

export function unaryTest(checking: Checking, operand: Type, test: UnaryTest): void {
  if (test.kind === 'interval') {
    for (const bound of [test.low, test.high])
      comparable(checking, operand, checking.infer(bound), '<=', bound.range, bound);
    return;
  }
  const actual = checking.infer(test.value);
  if (test.kind === 'compare') return comparable(checking, operand, actual, test.operator, test.range, test.value);
  if (actual.kind === 'range' || actual.kind === 'any' || actual.kind === 'boolean') return;
  if (actual.kind !== 'list') return comparable(checking, operand, actual, '=', test.range, test.value);
  if (test.value.kind === 'list') for (const item of test.value.items) optionText(checking, operand, item);
  const items =
    actual.item.kind === 'range' || fits(actual.item, operand) || fits(operand, actual.item) || fits(actual, operand);
  if (!items)
    checking.report('type.operands', test.range, { operator: 'in', left: typeName(operand), right: typeName(actual) });
}

/** Whether two types compare; `value` is the right operand, whose text is held against the left one's options. */
function comparable(
  checking: Checking,
  left: Type,
  right: Type,
  operator: Comparison['operator'],
  range: TextRange,
  value: Expression,
): void {
  optionText(checking, left, value);
  const { ordering } = comparison[operator];
  for (const side of [left, right])
    if (ordering && side.kind === 'option' && !side.options.order)
      return void checking.report('option.unordered', range, { field: side.options.field });
  const alike = fits(left, right) || fits(right, left);
  const orderless =
    ordering && [left, right].some((t) => ['boolean', 'list', 'context', 'function', 'range'].includes(t.kind));
  if (alike && !orderless) return;
  const data = { operator, left: typeName(left), right: typeName(right) };
  const day = dayMeant(value, left);
  if (day) checking.report('type.operands', value.range, { ...data, nearest: day });
  else checking.report('type.operands', range, data);
}

/** `date("2026-01-05")` for 2026-01-05, which takes one number from another; undefined where no day is meant. */
function dayMeant(value: Expression, of: Type): string | undefined {
  const numbers = (e: Expression): readonly unknown[] => {
    if (e.kind === 'arithmetic' && e.operator === '-') return [...numbers(e.left), ...numbers(e.right)];
    return e.kind === 'literal' ? [e.value] : [undefined];
  };
  if (of.kind !== 'date') return undefined;
  const [year, month, day, more] = numbers(value);
  const text = [year, month, day].map((n, i) => String(n).padStart(i === 0 ? 4 : 2, '0')).join('-');
  return more === undefined && parseDate(text) ? `date("${text}")` : undefined;
}

/** A text literal compared with a picklist must be one of its options. */
function optionText(checking: Checking, type: Type, e: Expression): void {
  if (type.kind !== 'option' || e.kind !== 'literal' || typeof e.value !== 'string') return;
  const { options } = type;
  if (options.names.includes(e.value)) return;
  const nearest = nearestName(e.value, options.names);
  const data = { field: options.field, option: e.value };
  checking.report('option.unknown', e.range, nearest ? { ...data, nearest } : data);
}

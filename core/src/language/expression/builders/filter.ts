/** `list[condition]` and `list[position]`. */
import { isNumber } from '../../../values/number.ts';
import { type Value, isList } from '../../../values/value.ts';
import type { Comparison, Expression, Filter } from '../ast.ts';
import { bodyPrice } from '../price.ts';
import { type Compiled, type Environment, spend } from '../runtime.ts';
import type { Builder, Building } from './building.ts';

/** By a number: that item, counted from 1, or from the end where it is negative. By a condition: those that hold. */
export const filter: Builder<Filter> = (e, building) => {
  const object = building.build(e.object);
  const narrow = narrowing(e, building);
  return building.with(2, (stackIndex) => {
    const condition = building.build(e.condition);
    const price = 1 + bodyPrice(e.condition);
    // A position that is blank is no position: there is no such item.
    const byPosition = building.typeOf(e.condition)?.kind === 'number';
    return (env) => {
      const v = narrow?.(env) ?? object(env);
      const items = v === null ? [] : isList(v) ? v : [v];
      if (items.length === 0 && narrow) return [];
      const variables = env.variables!;
      const at = (item: Value): Value => {
        spend(env, price);
        variables[stackIndex] = item;
        variables[stackIndex + 1] = item;
        return condition(env);
      };
      const first = at(items[0] ?? null);
      if (isNumber(first) || byPosition)
        return typeof first === 'number' && Number.isInteger(first) && first !== 0
          ? (items.at(first > 0 ? first - 1 : first) ?? null)
          : null;
      return items.filter((item, i) => (i === 0 ? first : at(item)) === true);
    };
  });
};

type Narrowing = (env: Environment) => readonly Value[] | undefined;

/**
 * `Table[Column = value and …]`: the rows of one column's value by a hash look-up; the condition then runs on these
 * few only. Undefined where the filter is none such.
 */
function narrowing(e: Filter, building: Building): Narrowing | undefined {
  const meaning = building.meaningOf(e.object);
  if (meaning?.kind !== 'table') return undefined;
  const found = conjuncts(e.condition)
    .filter((c): c is Comparison => c.kind === 'comparison' && c.operator === '=')
    .map((c) => columnAndValue(c, building))
    .find((c) => c !== undefined);
  if (!found) return undefined;
  const { column, value } = found;
  const { key } = meaning;
  return (env) => {
    const v = value(env);
    return v === null ? undefined : env.related?.table(key)?.equal(column, v);
  };
}

/** A comparison of a column with something that does not look at the row. */
function columnAndValue(
  { left, right }: Comparison,
  building: Building,
): { readonly column: string; readonly value: Compiled } | undefined {
  for (const [column, other] of [
    [left, right],
    [right, left],
  ] as const) {
    if (column.kind !== 'name' || building.meaningOf(column)?.kind !== 'member') continue;
    const rowwise = building.names(other, (m) => m.kind === 'member' || m.kind === 'variable');
    if (!rowwise) return { column: column.name, value: building.build(other) };
  }
  return undefined;
}

const conjuncts = (e: Expression): readonly Expression[] =>
  e.kind === 'and' ? [...conjuncts(e.left), ...conjuncts(e.right)] : [e];

/** What functions of lists take: a list, a single value in place of one, or several arguments. */
import { type Type, anyType, join, listOf, nullType } from '../types/types.ts';
import { type Value, isList } from '../../values/value.ts';
import type { Parameter } from './function.ts';

export const list: Parameter = { name: 'list', type: listOf(anyType) };
/** A single value stands for the list of it. */
export const items = (v: Value | undefined): readonly Value[] | null =>
  v === undefined || v === null ? null : isList(v) ? v : [v];
/** `f(list)` and `f(a, b, …)` alike. */
export const gathered = (args: readonly Value[]): readonly Value[] | null =>
  args.length === 1 ? items(args[0]) : args;
export const itemType = (args: readonly Type[]): Type =>
  args.length === 1 && args[0]!.kind === 'list' ? args[0].item : args.reduce(join, nullType);

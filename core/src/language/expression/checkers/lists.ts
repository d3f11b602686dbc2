/** Lists, contexts and functions, and what runs over or looks into them. */
import { type Type, anyType, booleanType, functionType, join, listOf, nullType } from '../../types/types.ts';
import type { Context, Expression, Filter, For, FunctionDefinition, Iterator, List, Quantified } from '../ast.ts';
import type { Checker, Checking, Frame } from './checking.ts';

export const list: Checker<List> = (e, checking) =>
  listOf(e.items.map((item) => checking.infer(item)).reduce(join, nullType));

export const context: Checker<Context> = (e, checking) => {
  const members = new Map<string, Type>();
  const frames: Frame[] = [];
  for (const { key, value } of e.entries) {
    const type = checking.within(frames, () => checking.infer(value));
    members.set(key, type);
    frames.push({ name: key, type });
  }
  return { kind: 'context', members };
};

export const functionDefinition: Checker<FunctionDefinition> = (e, checking) => {
  const frames = e.parameters.map((name): Frame => ({ name, type: anyType }));
  checking.within(frames, () => checking.infer(e.body));
  return functionType;
};

export const forLoop: Checker<For> = (e, checking) => listOf(bodyType(e.iterators, e.body, checking));

export const quantified: Checker<Quantified> = (e, checking) => {
  bodyType(e.iterators, e.body, checking);
  return booleanType;
};

function bodyType(iterators: readonly Iterator[], body: Expression, checking: Checking): Type {
  const frames: Frame[] = [];
  for (const { name, domain, end } of iterators) {
    const actual = checking.within(frames, () => checking.infer(domain));
    if (end) checking.within(frames, () => checking.infer(end));
    frames.push({ name, type: actual.kind === 'list' ? actual.item : end ? actual : anyType });
  }
  // `partial` is the list of results so far.
  return checking.within([...frames, { name: 'partial', type: listOf(anyType) }], () => checking.infer(body));
}

export const filter: Checker<Filter> = (e, checking) => {
  const actual = checking.infer(e.object);
  const item = actual.kind === 'list' ? actual.item : actual;
  const condition = checking.within([{ name: 'item', type: item }, { item }], () => checking.infer(e.condition));
  if (condition.kind === 'number') return item;
  return condition.kind === 'any' ? anyType : listOf(item);
};

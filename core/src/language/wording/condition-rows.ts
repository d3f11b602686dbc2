/**
 * A condition as rows of *field, comparison, value*, grouped by *all of* and *any of*: a view of its syntax tree. The
 * text is what is kept; an edit rewrites only what it changes, so that going back and forth alters nothing else.
 */
import { walk, type Expression, type UnaryTest } from '../expression/ast.ts';
import { createFormula } from '../expression/formula.ts';
import type { Scope } from '../expression/scope.ts';
import type { Type } from '../types/types.ts';

export interface ConditionRow {
  readonly kind: 'row';
  /** Path of the field as the formula writes it: `Stage`, `previous.Stage`, `Customer.Name`. */
  readonly subject: string;
  /** Key of the comparison. */
  readonly comparison: string;
  /** The values as formula texts. */
  readonly values: readonly string[];
  /** What stands behind it would be read as part of it: it ends in an `if`, a loop or a definition. */
  readonly open: boolean;
  readonly from: number;
  readonly to: number;
}

export interface ConditionGroup {
  readonly kind: 'group';
  readonly join: 'all' | 'any';
  readonly items: readonly (ConditionRow | ConditionGroup)[];
  readonly from: number;
  readonly to: number;
}

/** How many values a comparison takes. */
export type Arity = 'none' | 'one' | 'two' | 'many';

export interface RowComparison {
  readonly key: string;
  /** As the row reads: `is at least`. */
  readonly name: string;
  readonly takes: Arity;
  /** Whether it makes sense for a subject of this type. */
  readonly suits: (type: Type) => boolean;
  readonly print: (subject: string, values: readonly string[]) => string;
  /** Subject and values, where an expression says this comparison. */
  readonly read: (
    e: Expression,
  ) => { readonly subject: Expression; readonly values: readonly Expression[] } | undefined;
}

const any = (): boolean => true;
const isKind =
  (...kinds: readonly Type['kind'][]) =>
  (t: Type): boolean =>
    kinds.includes(t.kind) || t.kind === 'any';
const ordered = isKind('number', 'date', 'date time', 'time', 'days', 'years', 'option');
const single = (t: Type): boolean => t.kind !== 'list' && t.kind !== 'boolean';

/** A value beside a comparison: in brackets where it has parts that bind less, outside its own brackets and texts. */
function operand(value = 'null'): string {
  let outside = '';
  let depth = 0;
  for (const [part] of value.matchAll(/"(?:\\.|[^"\\])*"|[\s\S]/g)) {
    if (/^[([{]$/.test(part)) depth++;
    else if (/^[)\]}]$/.test(part)) depth--;
    else if (depth === 0) outside += part.startsWith('"') ? '""' : part;
  }
  return /[<>=]|\b(?:if|for|some|every|function|and|or|in|between|instance)\b/.test(outside) ? `(${value})` : value;
}

const operator = (
  key: string,
  name: string,
  sign: Extract<Expression, { kind: 'comparison' }>['operator'],
  suits: RowComparison['suits'],
): RowComparison => ({
  key,
  name,
  takes: 'one',
  suits,
  print: (subject, [value]) => `${subject} ${sign} ${operand(value)}`,
  read: (e) => (e.kind === 'comparison' && e.operator === sign ? { subject: e.left, values: [e.right] } : undefined),
});

const call = (
  key: string,
  name: string,
  f: string,
  takes: 'none' | 'one',
  suits: RowComparison['suits'],
): RowComparison => ({
  key,
  name,
  takes,
  suits,
  print: (subject, [value]) => `${f}(${takes === 'none' ? subject : `${subject}, ${value ?? 'null'}`})`,
  read: (e) =>
    e.kind === 'call' && e.name === f && !e.names && e.arguments.length === (takes === 'none' ? 1 : 2)
      ? { subject: e.arguments[0]!, values: e.arguments.slice(1) }
      : undefined,
});

const not = (key: string, name: string, inner: RowComparison): RowComparison => ({
  ...inner,
  key,
  name,
  print: (subject, values) => `not(${inner.print(subject, values)})`,
  read: (e) =>
    e.kind === 'call' && e.name === 'not' && e.arguments.length === 1 ? inner.read(e.arguments[0]!) : undefined,
});

const equalTests = (tests: readonly UnaryTest[]): Expression[] | undefined => {
  const values = tests.flatMap((t) => (t.kind === 'equal' ? [t.value] : []));
  if (values.length !== tests.length) return undefined;
  const [only] = values;
  return values.length === 1 && only?.kind === 'list' ? [...only.items] : values;
};
const oneOf: RowComparison = {
  key: 'one of',
  name: 'is one of',
  takes: 'many',
  suits: single,
  print: (subject, values) => `${subject} in (${values.join(', ')})`,
  read(e) {
    const values = e.kind === 'in' ? equalTests(e.tests) : undefined;
    return e.kind === 'in' && values ? { subject: e.operand, values } : undefined;
  },
};
const blank = call('blank', 'is blank', 'is blank', 'none', any);
const has = call('has', 'holds', 'list contains', 'one', isKind('list'));
const contains = call('contains', 'contains', 'contains', 'one', isKind('text'));
const literally =
  (value: boolean | null, operatorWanted: '=' | '!=') =>
  (e: Expression): { subject: Expression; values: readonly Expression[] } | undefined =>
    e.kind === 'comparison' && e.operator === operatorWanted && e.right.kind === 'literal' && e.right.value === value
      ? { subject: e.left, values: [] }
      : undefined;

/** In the order in which they are offered; the first that reads an expression says it. */
export const rowComparisons: readonly RowComparison[] = [
  {
    key: 'yes',
    name: 'is yes',
    takes: 'none',
    suits: isKind('boolean'),
    print: (subject) => `${subject} = true`,
    read: literally(true, '='),
  },
  {
    key: 'no',
    name: 'is no',
    takes: 'none',
    suits: isKind('boolean'),
    print: (subject) => `${subject} = false`,
    read: literally(false, '='),
  },
  { ...blank, read: (e) => blank.read(e) ?? literally(null, '=')(e) },
  { ...not('filled', 'is filled', blank), read: (e) => not('', '', blank).read(e) ?? literally(null, '!=')(e) },
  operator('is', 'is', '=', single),
  operator('is not', 'is not', '!=', single),
  operator('below', 'is below', '<', ordered),
  operator('at most', 'is at most', '<=', ordered),
  operator('above', 'is above', '>', ordered),
  operator('at least', 'is at least', '>=', ordered),
  {
    key: 'between',
    name: 'is between',
    takes: 'two',
    suits: isKind('number', 'date', 'date time', 'days', 'years'),
    print: (subject, [low, high]) => `${subject} between ${operand(low)} and ${operand(high)}`,
    read(e) {
      if (e.kind === 'between') return { subject: e.operand, values: [e.low, e.high] };
      const [only] = e.kind === 'in' && e.tests.length === 1 ? e.tests : [];
      if (e.kind !== 'in' || only?.kind !== 'interval' || !only.lowIncluded || !only.highIncluded) return undefined;
      return { subject: e.operand, values: [only.low, only.high] };
    },
  },
  oneOf,
  not('none of', 'is none of', oneOf),
  has,
  not('has not', 'does not hold', has),
  contains,
  not('contains not', 'does not contain', contains),
  call('starts', 'starts with', 'starts with', 'one', isKind('text')),
  call('ends', 'ends with', 'ends with', 'one', isKind('text')),
  call('changed', 'has changed', 'has changed', 'none', any),
  call('forward', 'moved forward', 'moved forward', 'none', isKind('option')),
  call('back', 'moved back', 'moved back', 'none', isKind('option')),
];

export const findComparison = (key: string): RowComparison | undefined => rowComparisons.find((c) => c.key === key);

/** Rows deeper than this stay a formula. */
const mostDepth = 3;

/** The condition as rows; undefined where it does not fit them or does not parse. An empty condition has no rows. */
export function rowsOf(text: string, scope: Scope): ConditionGroup | undefined {
  if (text.trim() === '') return { kind: 'group', join: 'all', items: [], from: 0, to: text.length };
  if (/\/\/|\/\*/.test(text)) return undefined; // a comment has no place in a row
  const { expression, checked } = createFormula(text, scope);
  if (!expression || !checked) return undefined;
  if (asksListForNull(expression, checked.types)) return undefined;
  const item = itemOf(expression, text, 0);
  if (!item) return undefined;
  return item.kind === 'group' ? { ...item, from: 0, to: text.length } : group('all', [item], 0, text.length);
}

/** A list that is blank is an empty one: `= null`, which holds for none, is no *is blank*. */
function asksListForNull(e: Expression, types: ReadonlyMap<Expression, Type>): boolean {
  let found = false;
  walk(e, (x) => {
    if (x.kind === 'comparison' && x.right.kind === 'literal' && x.right.value === null)
      found ||= types.get(x.left)?.kind === 'list';
  });
  return found;
}

const group = (join: 'all' | 'any', items: ConditionGroup['items'], from: number, to: number): ConditionGroup => ({
  kind: 'group',
  join,
  items,
  from,
  to,
});

function itemOf(e: Expression, text: string, depth: number): ConditionRow | ConditionGroup | undefined {
  if (e.kind !== 'and' && e.kind !== 'or') return rowOf(e, text);
  if (depth >= mostDepth) return undefined;
  const items = chain(e, e.kind).map((part) => itemOf(part, text, depth + 1));
  if (!items.every((i) => i !== undefined)) return undefined;
  return group(e.kind === 'and' ? 'all' : 'any', items, e.range.from, e.range.to);
}

const chain = (e: Expression, kind: 'and' | 'or'): readonly Expression[] =>
  e.kind === kind ? [...chain(e.left, kind), ...chain(e.right, kind)] : [e];

function rowOf(e: Expression, text: string): ConditionRow | undefined {
  const slice = (x: Expression): string => text.slice(x.range.from, x.range.to);
  for (const comparison of rowComparisons) {
    const found = comparison.read(e);
    if (!found || !isSubject(found.subject)) continue;
    const { from, to } = e.range;
    return {
      kind: 'row',
      subject: slice(found.subject),
      comparison: comparison.key,
      values: found.values.map(slice),
      open: isOpen(e),
      from,
      to,
    };
  }
  // A yes/no field that stands alone says that it is yes.
  if (isSubject(e)) return { kind: 'row', subject: slice(e), comparison: 'yes', values: [], open: false, ...e.range };
  return undefined;
}

/** Whether the end of an expression takes in whatever stands behind it. Brackets are not seen, so it may say so too often. */
function isOpen(e: Expression): boolean {
  switch (e.kind) {
    case 'if':
    case 'for':
    case 'some':
    case 'every':
    case 'function':
      return true;
    case 'comparison':
    case 'arithmetic':
      return isOpen(e.right);
    case 'negation':
      return isOpen(e.operand);
    case 'between':
      return isOpen(e.high);
    default:
      return false;
  }
}

/** A field, or a path of fields. */
const isSubject = (e: Expression): boolean => e.kind === 'name' || (e.kind === 'path' && isSubject(e.object));

export function printRow(subject: string, comparison: string, values: readonly string[]): string {
  return findComparison(comparison)?.print(subject, values) ?? subject;
}

/** The text with one row written anew. */
export const replaceRow = (text: string, row: ConditionRow, now: string): string =>
  text.slice(0, row.from) + now + text.slice(row.to);

const words = { all: ' and ', any: ' or ' } as const;

/** Ranges leave out the brackets around an item: they stand where precedence needs them, `and` before `or`. */
function textOfGroup(items: ConditionGroup['items'], join: 'all' | 'any', text: string): string {
  return items
    .map((item) => {
      const own = text.slice(item.from, item.to);
      const bare = item.kind === 'row' ? !item.open : item.join === join || item.join === 'all';
      return bare && !endsOpen(item) ? own : `(${own})`;
    })
    .join(words[join]);
}

const endsOpen = (item: ConditionRow | ConditionGroup): boolean =>
  item.kind === 'row' ? item.open : item.items.length > 0 && endsOpen(item.items.at(-1)!);

function rewriteGroup(text: string, root: ConditionGroup, g: ConditionGroup, now: string): string {
  if (g === root) return now;
  return text.slice(0, g.from) + now + text.slice(g.to);
}

/** The text with a row behind the others of a group. `root` is the whole condition. */
export function addRow(text: string, root: ConditionGroup, g: ConditionGroup, row: string): string {
  if (g.items.length === 0) return rewriteGroup(text, root, g, row);
  return rewriteGroup(text, root, g, `${textOfGroup(g.items, g.join, text)}${words[g.join]}${row}`);
}

export function removeItem(text: string, root: ConditionGroup, g: ConditionGroup, index: number): string {
  const items = g.items.filter((_, i) => i !== index);
  if (items.length === 0 && g !== root) {
    const parent = parentOf(root, g);
    return parent ? removeItem(text, root, parent, parent.items.indexOf(g)) : '';
  }
  return rewriteGroup(text, root, g, textOfGroup(items, g.join, text));
}

const parentOf = (root: ConditionGroup, g: ConditionGroup): ConditionGroup | undefined =>
  root.items.includes(g) ? root : root.items.flatMap((i) => (i.kind === 'group' ? (parentOf(i, g) ?? []) : []))[0];

/** *All of* becomes *any of*, or the other way round. */
export function changeJoin(text: string, root: ConditionGroup, g: ConditionGroup): string {
  return rewriteGroup(text, root, g, textOfGroup(g.items, g.join === 'all' ? 'any' : 'all', text));
}

/** The types that formulas have before they run. */

/** The options of a field as types know them. */
export interface OptionNames {
  /** Name of the field, for messages. */
  readonly field: string;
  readonly names: readonly string[];
  /** Rank of each option name in an ordered picklist; options outside the order are absent. */
  readonly order: ReadonlyMap<string, number> | null;
}

export type Type =
  | { readonly kind: 'any' }
  | { readonly kind: 'null' }
  | { readonly kind: 'boolean' }
  | { readonly kind: 'number' }
  | { readonly kind: 'text' }
  /** A text that is one of a field's options; `options.field` names the field in messages. */
  | { readonly kind: 'option'; readonly options: OptionNames }
  | { readonly kind: 'list'; readonly item: Type }
  | { readonly kind: 'date' | 'time' | 'date time' | 'days' | 'years' | 'range' | 'function' }
  /** `members` are known where the context stands in the formula. */
  | {
      readonly kind: 'context';
      readonly members?: ReadonlyMap<string, Type>;
      /** Key of the mapping table that it is a row of. */
      readonly table?: string;
    }
  /** A record of a known type; `route` says how the formula came to it from its own record, where that is known. */
  | { readonly kind: 'record'; readonly of: RecordShape; readonly route?: readonly Hop[] };

/** One step from a record to others: along one of its lookups, or to the records whose lookup names it. */
export interface Hop {
  readonly by: 'lookup' | 'children';
  /** Key of the lookup field; for children, of the lookup on them. */
  readonly field: string;
  /** Key of the record type that the step arrives at. */
  readonly to: string;
}

/** What formulas can reach of a record of one type. */
export interface RecordShape {
  /** Key and name of the record type; the key is empty where it may be any. */
  readonly key: string;
  readonly name: string;
  member(name: string): RecordMember | undefined;
  memberNames(): readonly string[];
}

export interface RecordMember {
  readonly type: Type;
  /** Key of the field, or the step to a child list. */
  readonly field?: string;
  readonly hop?: Hop;
}

export const anyType: Type = { kind: 'any' };
export const nullType: Type = { kind: 'null' };
export const booleanType: Type = { kind: 'boolean' };
export const numberType: Type = { kind: 'number' };
export const textType: Type = { kind: 'text' };
export const dateType: Type = { kind: 'date' };
export const timeType: Type = { kind: 'time' };
export const dateTimeType: Type = { kind: 'date time' };
export const daysType: Type = { kind: 'days' };
export const yearsType: Type = { kind: 'years' };
export const rangeType: Type = { kind: 'range' };
export const contextType: Type = { kind: 'context' };
export const functionType: Type = { kind: 'function' };
export const listOf = (item: Type): Type => ({ kind: 'list', item });

/** A type as a message names it: `a number`, `a list of numbers`. */
export function typeName(t: Type): string {
  if (t.kind === 'list') return `a list of ${typeNames(t.item)}`;
  if (t.kind === 'option') return `an option of ${t.options.field}`;
  if (t.kind === 'record') return t.of.key ? withArticle(t.of.name) : 'a record';
  return words[t.kind][0];
}

/** Several values of a type. */
function typeNames(t: Type): string {
  if (t.kind === 'list') return `lists of ${typeNames(t.item)}`;
  if (t.kind === 'option') return `options of ${t.options.field}`;
  if (t.kind === 'record') return t.of.key ? `${t.of.name} records` : 'records';
  return words[t.kind][1];
}

const withArticle = (name: string): string => `${/^[aeiou]/i.test(name) ? 'an' : 'a'} ${name}`;

const words: Readonly<
  Record<Exclude<Type['kind'], 'list' | 'option' | 'record'>, readonly [one: string, several: string]>
> = {
  any: ['a value whose type is not known until it runs', 'values'],
  null: ['blank', 'blank values'],
  boolean: ['true or false', 'true or false'],
  number: ['a number', 'numbers'],
  text: ['a text', 'texts'],
  date: ['a date', 'dates'],
  time: ['a time', 'times'],
  'date time': ['a date and time', 'dates and times'],
  days: ['a duration of days and time', 'durations of days and time'],
  years: ['a duration of years and months', 'durations of years and months'],
  range: ['a range', 'ranges'],
  context: ['a context', 'contexts'],
  function: ['a function', 'functions'],
};

/** Whether a value of type `actual` can stand where `wanted` is expected. Options are texts; blank fits everywhere. */
export function fits(actual: Type, wanted: Type): boolean {
  if (wanted.kind === 'any' || actual.kind === 'any' || actual.kind === 'null') return true;
  if (wanted.kind === 'text') return actual.kind === 'text' || actual.kind === 'option';
  if (wanted.kind === 'option')
    return actual.kind === 'text' || (actual.kind === 'option' && actual.options === wanted.options);
  if (wanted.kind === 'list') return actual.kind === 'list' && fits(actual.item, wanted.item);
  if (wanted.kind === 'record')
    return actual.kind === 'record' && (!wanted.of.key || !actual.of.key || actual.of.key === wanted.of.key);
  return actual.kind === wanted.kind;
}

/**
 * The narrowest type that holds the values of both: what an `if`, a list or `first filled` may give. Where nothing is
 * known of one of them, nothing is known of both.
 */
export function join(a: Type, b: Type): Type {
  if (a.kind === 'null') return b;
  if (b.kind === 'null') return a;
  if (a.kind === 'list' && b.kind === 'list') return listOf(join(a.item, b.item));
  if (a.kind === 'context' && b.kind === 'context') return a === b ? a : joinContexts(a, b);
  if (a.kind === 'option' && b.kind === 'option' && a.options === b.options) return a;
  if (isText(a) && isText(b)) return textType;
  if (a.kind === 'record' && b.kind === 'record')
    return a.of === b.of ? (sameRoute(a.route, b.route) ? a : { kind: 'record', of: a.of }) : anyType;
  return a.kind === b.kind ? a : anyType;
}

const isText = (t: Type): boolean => t.kind === 'text' || t.kind === 'option';

/** Members that only one of them has may be missing, so of these nothing is promised. */
function joinContexts(a: Extract<Type, { kind: 'context' }>, b: Extract<Type, { kind: 'context' }>): Type {
  if (!a.members || !b.members) return contextType;
  const same = a.members.size === b.members.size && [...a.members.keys()].every((name) => b.members!.has(name));
  if (!same) return contextType;
  return {
    kind: 'context',
    members: new Map([...a.members].map(([name, t]) => [name, join(t, b.members!.get(name)!)])),
  };
}

const sameRoute = (a: readonly Hop[] | undefined, b: readonly Hop[] | undefined): boolean =>
  a === b ||
  (a !== undefined &&
    b !== undefined &&
    a.length === b.length &&
    a.every((hop, i) => hop.by === b[i]!.by && hop.field === b[i]!.field && hop.to === b[i]!.to));

/** The options that values of a type, or items of a list of them, are. */
export function optionsOf(type: Type | undefined): OptionNames | undefined {
  if (type?.kind === 'list') return optionsOf(type.item);
  return type?.kind === 'option' ? type.options : undefined;
}

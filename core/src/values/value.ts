/** What formulas compute with, and how such values compare. Blank is `null` everywhere. */
import {
  DaysDuration,
  FeelDate,
  FeelDateTime,
  FeelTime,
  YearsDuration,
  dayNumber,
  instant,
  nanosPerSecond,
  temporalText,
  type Temporal,
} from './calendar.ts';
import type { Meter } from './meter.ts';
import { isVisible } from './unicode-case.ts';
import { compareNumbers, isNumber, numberToText, type Num } from './number.ts';

export type Value =
  | null
  | boolean
  | Num
  | string
  | readonly Value[]
  | Temporal
  | ContextValue
  | FeelRange
  | FeelFunction
  | RecordRef;
export type ContextValue = ReadonlyMap<string, Value>;

/** `null` as an end means that the range is open there. */
export class FeelRange {
  readonly low: Value;
  readonly high: Value;
  readonly lowIncluded: boolean;
  readonly highIncluded: boolean;
  constructor(low: Value, high: Value, lowIncluded: boolean, highIncluded: boolean) {
    this.low = low;
    this.high = high;
    this.lowIncluded = lowIncluded;
    this.highIncluded = highIncluded;
  }
}

/** A record, by its type and id; what it holds is asked of whoever runs the formula. Two are equal when they name one record. */
export class RecordRef {
  readonly recordType: string;
  /** Empty for the record that is being made. */
  readonly id: string;
  constructor(recordType: string, id: string) {
    this.recordType = recordType;
    this.id = id;
  }
}

export class FeelFunction {
  readonly parameters: readonly string[];
  readonly invoke: (args: readonly Value[]) => Value;
  constructor(parameters: readonly string[], invoke: (args: readonly Value[]) => Value) {
    this.parameters = parameters;
    this.invoke = invoke;
  }
}

export const isList = (v: Value): v is readonly Value[] => Array.isArray(v);
export const isContext = (v: Value): v is ContextValue => v instanceof Map;
export const isTemporal = (v: Value): v is Temporal =>
  v instanceof FeelDate ||
  v instanceof FeelTime ||
  v instanceof FeelDateTime ||
  v instanceof DaysDuration ||
  v instanceof YearsDuration;

/** A date, or the date of a date and time; null for anything else. */
export const datePart = (v: Value | undefined): FeelDate | null =>
  v instanceof FeelDate ? v : v instanceof FeelDateTime ? v.date : null;

/** Order of Unicode code points, not of UTF-16 units: the same everywhere, independent of any locale. */
export function compareText(a: string, b: string): number {
  if (a === b) return 0;
  const n = Math.min(a.length, b.length);
  for (let i = 0; i < n; i++) {
    const x = a.charCodeAt(i);
    const y = b.charCodeAt(i);
    if (x !== y) {
      const surrogateX = x >= 0xd800 && x <= 0xdfff;
      const surrogateY = y >= 0xd800 && y <= 0xdfff;
      if (surrogateX !== surrogateY) return surrogateX ? 1 : -1;
      return x < y ? -1 : 1;
    }
  }
  return a.length - b.length;
}

const sign = (a: number | bigint, b: number | bigint): number => (a < b ? -1 : a > b ? 1 : 0);
const timeInstant = (t: FeelTime): bigint => t.nanos - BigInt(t.offset ?? 0) * nanosPerSecond;

/** FEEL's order: null unless both are of one type that has an order. */
export function orderValues(a: Value, b: Value): number | null {
  if (isNumber(a)) return isNumber(b) ? compareNumbers(a, b) : null;
  if (typeof a === 'string') return typeof b === 'string' ? compareText(a, b) : null;
  if (a instanceof FeelDate) return b instanceof FeelDate ? sign(dayNumber(a), dayNumber(b)) : null;
  if (a instanceof FeelDateTime) return b instanceof FeelDateTime ? sign(instant(a), instant(b)) : null;
  if (a instanceof FeelTime) return b instanceof FeelTime ? sign(timeInstant(a), timeInstant(b)) : null;
  if (a instanceof DaysDuration) return b instanceof DaysDuration ? sign(a.nanos, b.nanos) : null;
  if (a instanceof YearsDuration) return b instanceof YearsDuration ? sign(a.months, b.months) : null;
  return null;
}

/** FEEL's `=`: null equals only null; values of different types give null. Lists may share their parts, so each visit is charged. */
export function equalValues(a: Value, b: Value, meter?: Meter): boolean | null {
  if (a === null || b === null) return a === b;
  if (typeof a === 'string') return typeof b === 'string' ? a === b : null;
  if (typeof a === 'number' && typeof b === 'number') return a === b;
  if (isList(a)) return isList(b) ? equalAll(a.length, b.length, (i) => [a[i]!, b[i]!], meter) : null;
  if (isContext(a)) {
    if (!isContext(b)) return null;
    const keys = [...a.keys()];
    return keys.every((k) => b.has(k)) && equalAll(a.size, b.size, (i) => [a.get(keys[i]!)!, b.get(keys[i]!)!], meter);
  }
  if (a instanceof FeelRange) {
    if (!(b instanceof FeelRange)) return null;
    const ends = equalValues(a.low, b.low) === true && equalValues(a.high, b.high) === true;
    return ends && a.lowIncluded === b.lowIncluded && a.highIncluded === b.highIncluded;
  }
  if (typeof a === 'boolean') return typeof b === 'boolean' ? a === b : null;
  if (a instanceof RecordRef) return b instanceof RecordRef ? a.recordType === b.recordType && a.id === b.id : null;
  const order = orderValues(a, b);
  return order === null ? null : order === 0;
}

function equalAll(n: number, m: number, pair: (i: number) => readonly [Value, Value], meter?: Meter): boolean {
  if (n !== m) return false;
  for (let i = 0; i < n; i++) {
    meter?.spend(1);
    const [a, b] = pair(i);
    if (equalValues(a, b, meter) !== true) return false;
  }
  return true;
}

/**
 * A text that two values share exactly when `equalValues` says true of them; undefined for what equals nothing, not even
 * itself (functions). For hashing: one look-up in place of a comparison with each.
 */
export function identityOf(v: Value, meter?: Meter): string | undefined {
  if (v === null) return '0';
  if (typeof v === 'string') return `s${v.length}:${v}`;
  if (isNumber(v)) return `n${numberToText(v)}`;
  if (typeof v === 'boolean') return v ? 'b1' : 'b0';
  if (isList(v) || isContext(v)) {
    const entries = isList(v)
      ? v
      : [...v].sort(([a], [b]) => compareText(a, b)).flatMap(([key, item]): Value[] => [key, item]);
    meter?.spend(1 + entries.length);
    const parts = entries.map((item) => identityOf(item, meter));
    if (parts.includes(undefined)) return undefined;
    meter?.spend(parts.reduce((sum, part) => sum + part!.length, 0) >> 3);
    return `${isList(v) ? 'l' : 'c'}${parts.length}(${parts.join(',')})`;
  }
  if (v instanceof FeelRange) {
    const [low, high] = [identityOf(v.low, meter), identityOf(v.high, meter)];
    return low === undefined || high === undefined
      ? undefined
      : `r${Number(v.lowIncluded)}${low}..${high}${Number(v.highIncluded)}`;
  }
  if (v instanceof FeelDate) return `d${dayNumber(v)}`;
  if (v instanceof FeelDateTime) return `i${instant(v)}`;
  if (v instanceof FeelTime) return `t${timeInstant(v)}`;
  if (v instanceof DaysDuration) return `p${v.nanos}`;
  if (v instanceof YearsDuration) return `y${v.months}`;
  return v instanceof RecordRef ? `k${v.recordType}:${v.id}` : undefined;
}

/** Whether a value lies in a range: null where they do not compare. */
export function inRange(v: Value, { low, high, lowIncluded, highIncluded }: FeelRange): boolean | null {
  const above = low === null ? 1 : orderValues(v, low);
  const below = high === null ? -1 : orderValues(v, high);
  if (above === null || below === null || v === null) return null;
  return (above > 0 || (lowIncluded && above === 0)) && (below < 0 || (highIncluded && below === 0));
}

/** Blank: null, a text without a visible character, and the empty list. */
export function isBlank(v: Value): boolean {
  if (v === null) return true;
  return typeof v === 'string' ? !isVisible(v) : isList(v) && v.length === 0;
}

/** Longer texts of values are cut: nobody reads them, and no memory is given to them. */
export const longestValueText = 100_000;
const deepestValueText = 100;

/**
 * How a value reads: as FEEL writes it, texts inside lists and contexts in quotation marks. What is longer than
 * `longestValueText`, or nested deeper than people read, ends in an ellipsis.
 */
export function valueToText(v: Value, inside = false): string {
  const writer = new ValueWriter();
  writer.write(v, inside, 0);
  return writer.text;
}

class ValueWriter {
  text = '';

  /** False: there is no more room. */
  private put(more: string): boolean {
    if (this.text.length + more.length <= longestValueText) {
      this.text += more;
      return true;
    }
    if (!this.text.endsWith('…')) this.text += `${more.slice(0, longestValueText - this.text.length)}…`;
    return false;
  }

  write(v: Value, inside: boolean, depth: number): boolean {
    if (depth > deepestValueText) return this.put('…');
    if (isList(v)) return this.all(v, '[', ']', (item) => this.write(item, true, depth + 1));
    if (isContext(v))
      return this.all([...v], '{', '}', ([k, item]) => {
        return this.put(`${contextKey(k)}: `) && this.write(item, true, depth + 1);
      });
    return this.put(scalarText(v, inside));
  }

  private all<T>(items: readonly T[], open: string, close: string, each: (item: T) => boolean): boolean {
    if (!this.put(open)) return false;
    for (const [i, item] of items.entries()) if ((i > 0 && !this.put(', ')) || !each(item)) return false;
    return this.put(close);
  }
}

function scalarText(v: Exclude<Value, readonly Value[] | ContextValue>, inside: boolean): string {
  if (v === null) return inside ? 'null' : 'blank';
  if (typeof v === 'boolean') return String(v);
  if (typeof v === 'string') return inside ? JSON.stringify(v) : v;
  if (isNumber(v)) return numberToText(v);
  if (v instanceof FeelRange) return rangeText(v);
  if (v instanceof FeelFunction) return `function(${v.parameters.join(', ')})`;
  if (v instanceof RecordRef) return v.id;
  return temporalText(v);
}

const contextKey = (k: string): string => (/^[\p{L}_][\p{L}\p{N}_ ]*$/u.test(k) ? k : JSON.stringify(k));

function rangeText({ low, high, lowIncluded, highIncluded }: FeelRange): string {
  const end = (v: Value): string => (isTemporal(v) ? `@"${temporalText(v)}"` : valueToText(v, true));
  if (low === null && high !== null) return `(${highIncluded ? '<=' : '<'} ${end(high)})`;
  if (high === null && low !== null) return `(${lowIncluded ? '>=' : '>'} ${end(low)})`;
  return `${lowIncluded ? '[' : '('}${end(low)}..${end(high)}${highIncluded ? ']' : ')'}`;
}

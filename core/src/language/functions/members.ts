/** What a path reaches inside a value: members of contexts, parts of dates, times, durations and ranges. */
import { anyType, booleanType, daysType, listOf, numberType, textType, type Type } from '../types/types.ts';
import {
  DaysDuration,
  FeelDate,
  FeelDateTime,
  FeelTime,
  nanosPerSecond,
  weekday,
  YearsDuration,
} from '../../values/calendar.ts';
import { Decimal, normalize } from '../../values/number.ts';
import type { Meter } from '../../values/meter.ts';
import { FeelRange, isContext, isList, RecordRef, type Value } from '../../values/value.ts';

/** Gives what a record holds under a name of a field or child list. */
export type ReadRecord = (ref: RecordRef, name: string) => Value;

type Parts<T> = Readonly<Record<string, readonly [Type, (v: T) => Value]>>;

const dateParts: Parts<FeelDate> = {
  year: [numberType, (d) => d.year],
  month: [numberType, (d) => d.month],
  day: [numberType, (d) => d.day],
  weekday: [numberType, weekday],
};
const seconds = (t: FeelTime): bigint => t.nanos / nanosPerSecond;
const timeParts: Parts<FeelTime> = {
  hour: [numberType, (t) => Number(seconds(t) / 3600n)],
  minute: [numberType, (t) => Number((seconds(t) / 60n) % 60n)],
  second: [numberType, (t) => normalize(new Decimal((t.nanos % (60n * nanosPerSecond)).toString()).div(1e9))],
  'time offset': [daysType, (t) => (t.offset === null ? null : new DaysDuration(BigInt(t.offset) * nanosPerSecond))],
  timezone: [textType, (t) => t.zone],
};
const dateTimeParts: Parts<FeelDateTime> = {
  ...Object.fromEntries(
    Object.entries(dateParts).map(([k, [t, get]]) => [k, [t, (v: FeelDateTime) => get(v.date)] as const]),
  ),
  ...Object.fromEntries(
    Object.entries(timeParts).map(([k, [t, get]]) => [k, [t, (v: FeelDateTime) => get(v.time)] as const]),
  ),
};
const part =
  (unit: bigint, every: bigint) =>
  (d: DaysDuration): Value =>
    Number((d.nanos / nanosPerSecond / unit) % every);
const daysParts: Parts<DaysDuration> = {
  days: [numberType, (d) => Number(d.nanos / nanosPerSecond / 86_400n)],
  hours: [numberType, part(3600n, 24n)],
  minutes: [numberType, part(60n, 60n)],
  seconds: [numberType, (d) => normalize(new Decimal((d.nanos % (60n * nanosPerSecond)).toString()).div(1e9))],
};
const yearsParts: Parts<YearsDuration> = {
  years: [numberType, (d) => Math.trunc(d.months / 12) + 0],
  months: [numberType, (d) => (d.months % 12) + 0],
};
const rangeParts: Parts<FeelRange> = {
  start: [anyType, (r) => r.low],
  end: [anyType, (r) => r.high],
  'start included': [booleanType, (r) => r.lowIncluded],
  'end included': [booleanType, (r) => r.highIncluded],
};

/** `Object.hasOwn` keeps `constructor` and the like what they are: names that are not there. */
function read<T>(parts: Parts<T>, name: string, v: T): Value {
  return Object.hasOwn(parts, name) ? parts[name]![1](v) : null;
}

const deepest = 50;
/** Steps for one member reached in a list. */
const memberPrice = 3;

/** The member of a value; null where it has none. A path over a list is the list of what it reaches in each item. */
export function memberOf(v: Value, name: string, readRecord?: ReadRecord, meter?: Meter, depth = 0): Value {
  if (isContext(v)) return v.get(name) ?? null;
  if (isList(v)) {
    meter?.spend(memberPrice * v.length);
    return depth > deepest ? null : v.map((item) => memberOf(item, name, readRecord, meter, depth + 1));
  }
  if (v instanceof RecordRef) return readRecord?.(v, name) ?? null;
  if (v instanceof FeelDate) return read(dateParts, name, v);
  if (v instanceof FeelTime) return read(timeParts, name, v);
  if (v instanceof FeelDateTime) return read(dateTimeParts, name, v);
  if (v instanceof DaysDuration) return read(daysParts, name, v);
  if (v instanceof YearsDuration) return read(yearsParts, name, v);
  if (v instanceof FeelRange) return read(rangeParts, name, v);
  return null;
}

const partsByType: Readonly<Record<string, Parts<never>>> = {
  date: dateParts,
  time: timeParts,
  'date time': dateTimeParts,
  days: daysParts,
  years: yearsParts,
  range: rangeParts,
};

/** The type of a member; undefined where values of the type have none of that name. */
export function memberType(type: Type, name: string): Type | undefined {
  if (type.kind === 'any' || type.kind === 'null' || type.kind === 'context') return anyType;
  if (type.kind === 'list') {
    const inner =
      type.item.kind === 'context' && type.item.members ? type.item.members.get(name) : memberType(type.item, name);
    return inner && listOf(inner);
  }
  const parts = partsByType[type.kind];
  return parts && Object.hasOwn(parts, name) ? parts[name]![0] : undefined;
}

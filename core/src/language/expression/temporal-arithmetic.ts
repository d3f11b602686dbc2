/** Arithmetic of dates, times and durations; null for pairs that have none. */
import {
  addDays,
  addMonths,
  addNanos,
  addToTime,
  DaysDuration,
  FeelDate,
  FeelDateTime,
  FeelTime,
  instant,
  nanosPerDay,
  nanosPerSecond,
  YearsDuration,
} from '../../values/calendar.ts';
import {
  Decimal,
  divide as divideNumbers,
  isNumber,
  isZero,
  normalize,
  toDecimal,
  type Num,
} from '../../values/number.ts';
import type { Value } from '../../values/value.ts';
import { movedInZone, type ZoneOffset } from '../../values/zones.ts';

const midnight = new FeelTime(0n);
const floorDays = (nanos: bigint): number =>
  Number((nanos - (((nanos % nanosPerDay) + nanosPerDay) % nanosPerDay)) / nanosPerDay);

function move(v: Value, by: DaysDuration | YearsDuration, zones: ZoneOffset | undefined): Value {
  if (v instanceof FeelDateTime && v.time.zone !== null) return movedInZone(v, v.time.zone, by, zones);
  if (by instanceof YearsDuration) {
    if (v instanceof FeelDate) return addMonths(v, by.months);
    const date = v instanceof FeelDateTime ? addMonths(v.date, by.months) : null;
    return date && new FeelDateTime(date, (v as FeelDateTime).time);
  }
  if (v instanceof FeelDate) return addDays(v, floorDays(by.nanos));
  if (v instanceof FeelDateTime) return addNanos(v, by.nanos);
  return v instanceof FeelTime ? addToTime(v, by.nanos) : null;
}

/** `zones`: what keeps the time of day of named zones across a change of clocks. */
export function add(a: Value, b: Value, zones?: ZoneOffset): Value {
  if (a instanceof DaysDuration)
    return b instanceof DaysDuration ? new DaysDuration(a.nanos + b.nanos) : move(b, a, zones);
  if (a instanceof YearsDuration) return b instanceof YearsDuration ? months(a.months + b.months) : move(b, a, zones);
  return b instanceof DaysDuration || b instanceof YearsDuration ? move(a, b, zones) : null;
}

const asDateTime = (v: Value): FeelDateTime | null =>
  v instanceof FeelDateTime ? v : v instanceof FeelDate ? new FeelDateTime(v, midnight) : null;

export function subtract(a: Value, b: Value, zones?: ZoneOffset): Value {
  if (b instanceof DaysDuration) return add(a, new DaysDuration(-b.nanos), zones);
  if (b instanceof YearsDuration) return add(a, new YearsDuration(0 - b.months), zones);
  if (a instanceof FeelTime && b instanceof FeelTime) {
    const at = (t: FeelTime): bigint => t.nanos - BigInt(t.offset ?? 0) * nanosPerSecond;
    return new DaysDuration(at(a) - at(b));
  }
  const [from, to] = [asDateTime(b), asDateTime(a)];
  if (!from || !to) return null;
  // A date counts as its midnight in UTC; a local time and one with an offset have no distance.
  if (a instanceof FeelDateTime && b instanceof FeelDateTime && (a.time.offset === null) !== (b.time.offset === null))
    return null;
  return new DaysDuration(instant(to) - instant(from));
}

const most = new Decimal('1e24');

function days(nanos: InstanceType<typeof Decimal>): DaysDuration | null {
  return nanos.isFinite() && nanos.abs().lessThan(most)
    ? new DaysDuration(BigInt(nanos.toFixed(0, Decimal.ROUND_DOWN)))
    : null;
}

const months = (n: number): YearsDuration | null => (Number.isSafeInteger(n) ? new YearsDuration(n) : null);

function scale(d: Value, by: (n: InstanceType<typeof Decimal>) => InstanceType<typeof Decimal>): Value {
  if (d instanceof DaysDuration) return days(by(new Decimal(d.nanos.toString())));
  return d instanceof YearsDuration ? months(by(new Decimal(d.months)).trunc().toNumber()) : null;
}

export function multiply(a: Value, b: Value): Value {
  if (isNumber(b)) return scale(a, (n) => n.times(toDecimal(b)));
  return isNumber(a) ? multiply(b, a) : null;
}

export function divide(a: Value, b: Value): Value {
  if (isNumber(b)) return isZero(b) ? null : scale(a, (n) => n.div(toDecimal(b)));
  if (a instanceof DaysDuration && b instanceof DaysDuration) return b.nanos === 0n ? null : ratio(a.nanos, b.nanos);
  if (a instanceof YearsDuration && b instanceof YearsDuration) return divideNumbers(a.months, b.months);
  return null;
}

const ratio = (a: bigint, b: bigint): Num | null => normalize(new Decimal(a.toString()).div(new Decimal(b.toString())));

/** Named time zones: their rules come from whoever runs the formula; without them a zone is only a name. */
import {
  addDays,
  addMonths,
  addNanos,
  dateOfDay,
  FeelDateTime,
  FeelTime,
  instant,
  nanosPerDay,
  nanosPerSecond,
  temporalText,
  YearsDuration,
  type DaysDuration,
} from './calendar.ts';
import type { Value } from './value.ts';

/** Seconds east of UTC that a zone (IANA name) keeps at a local date and time; null where there is no such zone. */
export type ZoneOffset = (zone: string, local: string) => number | null;

/** A day on which times of day without a date are placed: their zone's standard offset. */
const anyDay = '1970-01-01';

/** A date and time or time of a named zone with its offset; null where there is no such zone. All else stays. */
export function located(v: Value, zoneOffset: ZoneOffset | undefined): Value {
  if (!zoneOffset) return v;
  if (v instanceof FeelTime) {
    if (v.zone === null || v.offset !== null) return v;
    const local = temporalText(new FeelTime(v.nanos));
    const offset = zoneOffset(v.zone, `${anyDay}T${local}`);
    return offset === null ? null : new FeelTime(v.nanos, offset, v.zone);
  }
  if (!(v instanceof FeelDateTime) || v.time.zone === null || v.time.offset !== null) return v;
  return locatedDateTime(v, v.time.zone, zoneOffset);
}

function locatedDateTime({ date, time }: FeelDateTime, zone: string, zoneOffset: ZoneOffset): FeelDateTime | null {
  const offset = zoneOffset(zone, temporalText(new FeelDateTime(date, new FeelTime(time.nanos))));
  return offset === null ? null : new FeelDateTime(date, new FeelTime(time.nanos, offset, zone));
}

/** The local date and time that a zone shows at an instant; null where there is no such zone. */
export function inZone(at: bigint, zone: string, zoneOffset: ZoneOffset): FeelDateTime | null {
  const local = (offset: number): FeelDateTime => {
    const nanos = at + BigInt(offset) * nanosPerSecond;
    const time = ((nanos % nanosPerDay) + nanosPerDay) % nanosPerDay;
    return new FeelDateTime(dateOfDay(Number((nanos - time) / nanosPerDay)), new FeelTime(time, offset, zone));
  };
  const offsetThere = ({ date, time }: FeelDateTime): number | null =>
    zoneOffset(zone, temporalText(new FeelDateTime(date, new FeelTime(time.nanos))));
  const [dayBefore, dayAfter] = [-86_400, 86_400].map((seconds) => offsetThere(local(seconds)));
  if (dayBefore == null || dayAfter == null) return null;
  // On the day of a change of clocks: where both could be, the larger offset if the zone keeps it at that local time. Those
  // that are skipped, and the second of those that come twice, are told with the smaller one.
  const larger = local(Math.max(dayBefore, dayAfter));
  return offsetThere(larger) === larger.time.offset ? larger : local(Math.min(dayBefore, dayAfter));
}

/**
 * A date and time of a named zone moved by a duration: whole days and months keep the time of day across a change of
 * clocks, hours and less are time that passes.
 */
export function movedInZone(
  v: FeelDateTime,
  zone: string,
  by: DaysDuration | YearsDuration,
  zoneOffset: ZoneOffset | undefined,
): FeelDateTime | null {
  const { date, time } = v;
  const days = by instanceof YearsDuration ? 0n : by.nanos / nanosPerDay;
  const moved = by instanceof YearsDuration ? addMonths(date, by.months) : addDays(date, Number(days));
  if (!moved) return null;
  const rest = by instanceof YearsDuration ? 0n : by.nanos - days * nanosPerDay;
  if (!zoneOffset) return addNanos(new FeelDateTime(moved, time), rest);
  const there = locatedDateTime(new FeelDateTime(moved, time), zone, zoneOffset);
  return there && (rest === 0n ? there : inZone(instant(there) + rest, zone, zoneOffset));
}

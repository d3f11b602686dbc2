/** Named time zones: their rules come from whoever runs the formula; without them a zone is only a name. */
import { FeelDateTime, FeelTime, temporalText } from './calendar.ts';
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
  const { nanos, zone } = v.time;
  const offset = zoneOffset(zone, temporalText(new FeelDateTime(v.date, new FeelTime(nanos))));
  return offset === null ? null : new FeelDateTime(v.date, new FeelTime(nanos, offset, zone));
}

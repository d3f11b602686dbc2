/**
 * Dates, times and durations as FEEL and ISO 8601 have them, on the proleptic Gregorian calendar. Exact whole-number
 * arithmetic, no host clock, zone or locale. Durations of days and time are counted in nanoseconds.
 */

export const nanosPerSecond = 1_000_000_000n;
export const nanosPerDay = 86_400n * nanosPerSecond;
export const longestYear = 999_999_999;

export class FeelDate {
  readonly year: number;
  readonly month: number;
  readonly day: number;
  constructor(year: number, month: number, day: number) {
    this.year = year;
    this.month = month;
    this.day = day;
  }
}

/** `offset` in seconds east of UTC; `zone` an IANA name; neither: a local time. */
export class FeelTime {
  /** Since midnight. */
  readonly nanos: bigint;
  readonly offset: number | null;
  readonly zone: string | null;
  constructor(nanos: bigint, offset: number | null = null, zone: string | null = null) {
    this.nanos = nanos;
    this.offset = offset;
    this.zone = zone;
  }
}

export class FeelDateTime {
  readonly date: FeelDate;
  readonly time: FeelTime;
  constructor(date: FeelDate, time: FeelTime) {
    this.date = date;
    this.time = time;
  }
}

export class DaysDuration {
  readonly nanos: bigint;
  constructor(nanos: bigint) {
    this.nanos = nanos;
  }
}

export class YearsDuration {
  /** Whole months. */
  readonly months: number;
  constructor(months: number) {
    this.months = months;
  }
}

export type Temporal = FeelDate | FeelTime | FeelDateTime | DaysDuration | YearsDuration;

const floorDiv = (a: number, b: number): number => Math.floor(a / b);
const mod = (a: number, b: number): number => a - b * Math.floor(a / b);
const floorDivBig = (a: bigint, b: bigint): bigint => (a - (((a % b) + b) % b)) / b;

export const isLeap = (year: number): boolean => mod(year, 4) === 0 && (mod(year, 100) !== 0 || mod(year, 400) === 0);
const lengths = [31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31];
export const daysInMonth = (year: number, month: number): number =>
  month === 2 && isLeap(year) ? 29 : (lengths[month - 1] ?? 0);

/** Days since 1970-01-01: the civil-from-days algorithm with years beginning in March. */
export function dayNumber({ year, month, day }: FeelDate): number {
  const y = month <= 2 ? year - 1 : year;
  const era = floorDiv(y, 400);
  const yearOfEra = y - era * 400;
  const dayOfYear = Math.floor((153 * (month + (month > 2 ? -3 : 9)) + 2) / 5) + day - 1;
  const dayOfEra = yearOfEra * 365 + Math.floor(yearOfEra / 4) - Math.floor(yearOfEra / 100) + dayOfYear;
  return era * 146_097 + dayOfEra - 719_468;
}

export function dateOfDay(days: number): FeelDate {
  const z = days + 719_468;
  const era = floorDiv(z, 146_097);
  const dayOfEra = z - era * 146_097;
  const yearOfEra = Math.floor(
    (dayOfEra - Math.floor(dayOfEra / 1460) + Math.floor(dayOfEra / 36_524) - Math.floor(dayOfEra / 146_096)) / 365,
  );
  const dayOfYear = dayOfEra - (365 * yearOfEra + Math.floor(yearOfEra / 4) - Math.floor(yearOfEra / 100));
  const shifted = Math.floor((5 * dayOfYear + 2) / 153);
  const day = dayOfYear - Math.floor((153 * shifted + 2) / 5) + 1;
  const month = shifted < 10 ? shifted + 3 : shifted - 9;
  return new FeelDate(yearOfEra + era * 400 + (month <= 2 ? 1 : 0), month, day);
}

/** null for a day that the calendar does not have. */
export function makeDate(year: number, month: number, day: number): FeelDate | null {
  const whole = [year, month, day].every(Number.isInteger);
  if (!whole || Math.abs(year) > longestYear || month < 1 || month > 12) return null;
  return day >= 1 && day <= daysInMonth(year, month) ? new FeelDate(year, month, day) : null;
}

/** Adds months; a day that the month does not have becomes its last (31 January + 1 month = 28 or 29 February). */
export function addMonths({ year, month, day }: FeelDate, months: number): FeelDate | null {
  const count = year * 12 + (month - 1) + months;
  const [y, m] = [floorDiv(count, 12), mod(count, 12) + 1];
  return makeDate(y, m, Math.min(day, daysInMonth(y, m)));
}

export function addDays(date: FeelDate, days: number): FeelDate | null {
  const moved = dateOfDay(dayNumber(date) + days);
  return Math.abs(moved.year) > longestYear ? null : moved;
}

/** 1 for Monday to 7 for Sunday (ISO 8601). */
export const weekday = (date: FeelDate): number => mod(dayNumber(date) + 3, 7) + 1;
export const dayOfYear = (date: FeelDate): number => dayNumber(date) - dayNumber(new FeelDate(date.year, 1, 1)) + 1;

/** Week of the year by ISO 8601: the week that holds the year's first Thursday is the first. */
export function weekOfYear(date: FeelDate): number {
  const thursday = dateOfDay(dayNumber(date) - weekday(date) + 4);
  return Math.floor((dayOfYear(thursday) - 1) / 7) + 1;
}

/** Nanoseconds since 1970-01-01T00:00Z; a time without an offset counts as `assumed` seconds east of UTC. */
export function instant({ date, time }: FeelDateTime, assumed = 0): bigint {
  return BigInt(dayNumber(date)) * nanosPerDay + time.nanos - BigInt(time.offset ?? assumed) * nanosPerSecond;
}

/** A date and time moved by a duration, in its own offset. */
export function addNanos({ date, time }: FeelDateTime, nanos: bigint): FeelDateTime | null {
  const total = time.nanos + nanos;
  const days = floorDivBig(total, nanosPerDay);
  const moved = addDays(date, Number(days));
  return moved ? new FeelDateTime(moved, new FeelTime(total - days * nanosPerDay, time.offset, time.zone)) : null;
}

/** A time of day moved by a duration; it goes round at midnight. */
export function addToTime(time: FeelTime, nanos: bigint): FeelTime {
  const total = time.nanos + nanos;
  return new FeelTime(total - floorDivBig(total, nanosPerDay) * nanosPerDay, time.offset, time.zone);
}

/** Whole months from one date to the other, rounded towards zero. */
export function monthsBetween(from: FeelDate, to: FeelDate): number {
  const raw = (to.year - from.year) * 12 + (to.month - from.month);
  if (raw > 0 && to.day < from.day) return raw - 1;
  if (raw < 0 && to.day > from.day) return raw + 1;
  return raw;
}

// ---- ISO 8601 text

const datePattern = /^(-?)(\d{4,9})-(\d{2})-(\d{2})$/;
const timePattern = /^(\d{2}):(\d{2}):(\d{2})(?:\.(\d{1,9})\d*)?([Zz]|[+-]\d{2}:\d{2}(?::\d{2})?|@[A-Za-z][\w+/-]*)?$/;

export function parseDate(text: string): FeelDate | null {
  const m = datePattern.exec(text);
  if (!m || (m[2]!.length > 4 && m[2]!.startsWith('0'))) return null;
  return makeDate(Number(m[1]! + m[2]!), Number(m[3]), Number(m[4]));
}

export function parseTime(text: string): FeelTime | null {
  const m = timePattern.exec(text);
  if (!m) return null;
  const [hour, minute, second] = [Number(m[1]), Number(m[2]), Number(m[3])];
  const zoneText = m[5];
  const offset = zoneText === undefined || zoneText.startsWith('@') ? null : parseOffset(zoneText);
  if (offset === undefined) return null;
  const fraction = BigInt((m[4] ?? '').padEnd(9, '0'));
  const time = makeTime(hour, minute, second, fraction, offset);
  return time && zoneText?.startsWith('@') ? new FeelTime(time.nanos, null, zoneText.slice(1)) : time;
}

function parseOffset(text: string): number | undefined {
  // RFC 3339 and the examples of DMN write it small as well.
  if (text === 'Z' || text === 'z') return 0;
  const [hours = 0, minutes = 0, seconds = 0] = text.slice(1).split(':').map(Number);
  if (hours > 18 || minutes > 59 || seconds > 59) return undefined;
  return (text.startsWith('-') ? -1 : 1) * (hours * 3600 + minutes * 60 + seconds);
}

export function makeTime(
  hour: number,
  minute: number,
  second: number,
  fraction: bigint,
  offset: number | null,
): FeelTime | null {
  if (![hour, minute, second].every(Number.isInteger)) return null;
  // 24:00:00 is the end of a day (ISO 8601): the same time of day as 00:00:00.
  const end = hour === 24 && minute === 0 && second === 0 && fraction === 0n;
  if (hour < 0 || (hour > 23 && !end) || minute < 0 || minute > 59 || second < 0 || second > 59) return null;
  const seconds = end ? 0 : hour * 3600 + minute * 60 + second;
  return new FeelTime(BigInt(seconds) * nanosPerSecond + fraction, offset);
}

export function parseDateTime(text: string): FeelDateTime | null {
  const at = text.indexOf('T');
  const date = parseDate(at < 0 ? text : text.slice(0, at));
  if (!date) return null;
  if (at < 0) return new FeelDateTime(date, new FeelTime(0n));
  const time = parseTime(text.slice(at + 1));
  if (!time) return null;
  if (text.slice(at + 1).startsWith('24')) {
    const next = addDays(date, 1);
    return next && new FeelDateTime(next, time);
  }
  return new FeelDateTime(date, time);
}

const durationPattern =
  /^(-?)P(?:(\d+)Y)?(?:(\d+)M)?(?:(\d+)D)?(?:T(?:(\d+)H)?(?:(\d+)M)?(?:(\d+)(?:\.(\d{1,9})\d*)?S)?)?$/;

/** `P1Y2M` or `P3DT4H`; null where the two are mixed or it is no duration. */
export function parseDuration(text: string): DaysDuration | YearsDuration | null {
  const m = durationPattern.exec(text);
  if (!m || text.length > 60 || /[PT]$/.test(text)) return null;
  const [, sign, years, months, days, hours, minutes, seconds, fraction] = m;
  const inMonths = years !== undefined || months !== undefined;
  if (inMonths && [days, hours, minutes, seconds].some((p) => p !== undefined)) return null;
  if (inMonths) {
    const total = Number(years ?? 0) * 12 + Number(months ?? 0);
    return Number.isSafeInteger(total) ? new YearsDuration(sign === '-' && total !== 0 ? -total : total) : null;
  }
  const whole =
    ((BigInt(days ?? 0) * 24n + BigInt(hours ?? 0)) * 60n + BigInt(minutes ?? 0)) * 60n + BigInt(seconds ?? 0);
  const nanos = whole * nanosPerSecond + BigInt((fraction ?? '').padEnd(9, '0'));
  return new DaysDuration(sign === '-' ? -nanos : nanos);
}

const two = (n: number | bigint): string => String(n).padStart(2, '0');
const fractionText = (nanos: bigint): string => {
  const rest = nanos % nanosPerSecond;
  return rest === 0n ? '' : `.${String(rest).padStart(9, '0').replace(/0+$/, '')}`;
};

export function dateText({ year, month, day }: FeelDate): string {
  return `${year < 0 ? '-' : ''}${String(Math.abs(year)).padStart(4, '0')}-${two(month)}-${two(day)}`;
}

export function offsetText(offset: number): string {
  if (offset === 0) return 'Z';
  const a = Math.abs(offset);
  const seconds = a % 60;
  return `${offset < 0 ? '-' : '+'}${two(Math.floor(a / 3600))}:${two(Math.floor(a / 60) % 60)}${seconds ? `:${two(seconds)}` : ''}`;
}

export function timeText({ nanos, offset, zone }: FeelTime): string {
  const s = nanos / nanosPerSecond;
  const zoneText = zone !== null ? `@${zone}` : offset === null ? '' : offsetText(offset);
  return `${two(s / 3600n)}:${two((s / 60n) % 60n)}:${two(s % 60n)}${fractionText(nanos)}${zoneText}`;
}

export function durationText(d: DaysDuration | YearsDuration): string {
  if (d instanceof YearsDuration) {
    const a = Math.abs(d.months);
    const text = `${a >= 12 ? `${Math.floor(a / 12)}Y` : ''}${a % 12 ? `${a % 12}M` : ''}`;
    return `${d.months < 0 ? '-' : ''}P${text || '0M'}`;
  }
  const a = d.nanos < 0n ? -d.nanos : d.nanos;
  const s = a / nanosPerSecond;
  const days = s / 86_400n;
  const [hours, minutes, seconds] = [(s / 3600n) % 24n, (s / 60n) % 60n, s % 60n];
  const secondsText = seconds || a % nanosPerSecond ? `${seconds}${fractionText(a)}S` : '';
  const time = `${hours ? `${hours}H` : ''}${minutes ? `${minutes}M` : ''}${secondsText}`;
  const text = `${days ? `${days}D` : ''}${time ? `T${time}` : ''}`;
  return `${d.nanos < 0n ? '-' : ''}P${text || 'T0S'}`;
}

export function temporalText(t: Temporal): string {
  if (t instanceof FeelDate) return dateText(t);
  if (t instanceof FeelTime) return timeText(t);
  if (t instanceof FeelDateTime) return `${dateText(t.date)}T${timeText(t.time)}`;
  return durationText(t);
}

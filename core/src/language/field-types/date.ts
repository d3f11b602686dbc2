import { dateTimeType, dateType } from '../types/types.ts';
import {
  addNanos,
  FeelDate,
  FeelDateTime,
  FeelTime,
  dateOfDay,
  dateText,
  instant,
  nanosPerSecond,
  parseDate,
  parseDateTime,
  temporalText,
} from '../../values/calendar.ts';
import type { Host } from '../types/host.ts';
import type { Stored } from '../../document/document.ts';
import { compareText, type Value } from '../../values/value.ts';
import { inZone } from '../../values/zones.ts';
import type { Coerced, FieldType } from './field-type.ts';

/** Whether `YYYY-MM-DD` names a day of the proleptic Gregorian calendar (ISO 8601). */
export const isIsoDate = (text: string): boolean => /^\d{4}-/.test(text) && parseDate(text) !== null;

const isBlankGiven = (v: unknown): boolean => v === null || v === undefined || v === '';
const shown = (stored: Stored): string => (typeof stored === 'string' ? stored : '');

/** Dates recur over records; reading one again is a look-up. */
const datesKept = 5_000;
const readDates = new Map<string, FeelDate | null>();

function readDate(stored: Stored): Value {
  if (typeof stored !== 'string') return null;
  let date = readDates.get(stored);
  if (date === undefined) {
    if (readDates.size >= datesKept) readDates.clear();
    readDates.set(stored, (date = parseDate(stored)));
  }
  return date;
}

function coerceDate(value: unknown): Coerced {
  if (isBlankGiven(value)) return { value: null };
  const date = value instanceof FeelDateTime ? value.date : value;
  const text = date instanceof FeelDate ? dateText(date) : date;
  return typeof text === 'string' && isIsoDate(text)
    ? { value: text }
    : { problem: 'is not a date such as 2026-05-03' };
}

/** The day after it is none that ISO 8601 writes in ten characters. */
const lastDay = '9999-12-31';
const days: FieldType['bounds'] = {
  called: 'a day such as 2026-05-03',
  accepts: (text) => /^[1-9]\d{3}-/.test(text) && isIsoDate(text) && text < lastDay,
};

/** Stored as ISO 8601 `YYYY-MM-DD`. */
export const date: FieldType<'date'> = {
  key: 'date',
  name: 'date',
  example: '2024-02-29',
  titles: true,
  column: 'date',
  at: (place) => dateText(dateOfDay(place)),
  usualStarts: () => [{ name: 'today', formula: 'today()' }],
  written: 'day',
  bounds: days,
  sql: { json: 'string', as: 'text' },
  starting: null,
  typeOf: () => dateType,
  read: readDate,
  coerce: coerceDate,
  parse: (text) => (text.trim() === '' ? null : text.trim()),
  format: shown,
  compare: (a, b) => compareText(String(a), String(b)),
  step: () => 1,
  boundaryValues: () => [],
};

/** The instant in UTC, to the second: `2026-05-03T08:00:00Z`. A time without an offset is taken as UTC. */
function inUtc(input: FeelDateTime): string | null {
  const offset = input.time.offset ?? 0;
  const moved = addNanos(input, -BigInt(offset) * nanosPerSecond);
  if (!moved) return null;
  const whole = moved.time.nanos - (moved.time.nanos % nanosPerSecond);
  return temporalText(new FeelDateTime(moved.date, new FeelTime(whole, 0)));
}

function coerceInstant(value: unknown): Coerced {
  if (isBlankGiven(value)) return { value: null };
  const input = typeof value === 'string' ? parseDateTime(value.trim().replace(' ', 'T')) : value;
  const placed = input instanceof FeelDateTime && (input.time.zone === null || input.time.offset !== null);
  const text = placed ? inUtc(input) : null;
  return text !== null && /^\d{4}-/.test(text)
    ? { value: text }
    : { problem: 'is not a date and time such as 2026-05-03T09:00:00+01:00' };
}

/** As the clocks of the organisation show the instant, so that its date is the day there. */
function readInstant(stored: Stored, { zone, zoneOffset }: Host = {}): Value {
  const utc = typeof stored === 'string' ? parseDateTime(stored) : null;
  if (!utc || zone === undefined || !zoneOffset) return utc;
  return inZone(instant(utc), zone, zoneOffset) ?? utc;
}

/** Stored as an instant in UTC, ISO 8601 to the second, so that equal instants have one form. */
export const dateTime: FieldType<'date-time'> = {
  key: 'date-time',
  name: 'date-time',
  example: '2024-02-29T10:00:00+01:00',
  column: 'text',
  dmn: { typeRef: 'dateTime', call: 'date and time' },
  usualStarts: () => [{ name: 'now', formula: 'now()' }],
  written: 'instant',
  bounds: days,
  instant: true,
  sql: { json: 'string', as: 'text' },
  starting: null,
  typeOf: () => dateTimeType,
  read: (stored, _field, host) => readInstant(stored, host),
  coerce: coerceInstant,
  parse: (text) => (text.trim() === '' ? null : text.trim()),
  format: shown,
  compare: (a, b) => compareText(String(a), String(b)),
  boundaryValues: () => [],
};

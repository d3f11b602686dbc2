import {
  anyType,
  booleanType,
  dateTimeType,
  dateType,
  numberType,
  textType,
  timeType,
  yearsType,
  type Type,
} from '../types/types.ts';
import {
  addDays,
  dayOfYear,
  DaysDuration,
  FeelDate,
  FeelDateTime,
  FeelTime,
  instant,
  makeDate,
  makeTime,
  monthsBetween,
  nanosPerSecond,
  parseDate,
  parseDateTime,
  parseDuration,
  parseTime,
  weekday,
  weekOfYear,
  YearsDuration,
} from '../../values/calendar.ts';
import { Decimal, isNumber, toDecimal } from '../../values/number.ts';
import { datePart, equalValues, type Value } from '../../values/value.ts';
import { inZone, located } from '../../values/zones.ts';
import type { Host } from '../types/host.ts';
import type { LanguageFunction, Parameter } from './function.ts';

const from: Parameter = { name: 'from', type: anyType };
const dateLike: Parameter = { name: 'date', type: anyType };
const numbers = (...names: string[]): Parameter[] => names.map((name) => ({ name, type: numberType }));

const days = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'] as const;
const months = [
  'January',
  'February',
  'March',
  'April',
  'May',
  'June',
  'July',
  'August',
  'September',
  'October',
  'November',
  'December',
] as const;

function date(args: readonly Value[]): Value {
  if (args.length === 3) {
    const [year, month, day] = args;
    return typeof year === 'number' && typeof month === 'number' && typeof day === 'number'
      ? makeDate(year, month, day)
      : null;
  }
  const [v] = args;
  return typeof v === 'string' ? parseDate(v) : datePart(v);
}

function time(args: readonly Value[]): Value {
  if (args.length === 1) {
    const [v] = args;
    if (typeof v === 'string') return parseTime(v);
    if (v instanceof FeelDateTime) return v.time;
    return v instanceof FeelDate ? new FeelTime(0n, 0) : v instanceof FeelTime ? v : null;
  }
  const [hour, minute, second, offset] = args;
  if (typeof hour !== 'number' || typeof minute !== 'number' || !isNumber(second ?? null)) return null;
  if (offset !== undefined && offset !== null && !(offset instanceof DaysDuration)) return null;
  const exact = toDecimal(second as number);
  const whole = exact.floor();
  const fraction = BigInt(exact.minus(whole).times(new Decimal(1e9)).floor().toFixed());
  const seconds = offset instanceof DaysDuration ? Number(offset.nanos / nanosPerSecond) : null;
  return makeTime(hour, minute, whole.toNumber(), fraction, seconds);
}

function dateAndTime(args: readonly Value[]): Value {
  const [first, second] = args;
  if (args.length === 2) {
    const day = datePart(first);
    if (day && second instanceof FeelTime) return new FeelDateTime(day, second);
    return null;
  }
  if (typeof first === 'string') return parseDateTime(first);
  if (first instanceof FeelDateTime) return first;
  return first instanceof FeelDate ? new FeelDateTime(first, new FeelTime(0n)) : null;
}

function onDate(
  name: string,
  result: Type,
  help: string,
  examples: LanguageFunction['examples'],
  compute: (d: FeelDate) => Value,
): LanguageFunction {
  return {
    name,
    parameters: [dateLike],
    result,
    help,
    examples,
    work: 10,
    evaluate: ([v]) => (datePart(v) ? compute(datePart(v)!) : null),
  };
}

/** A batch of writes shares its moment: reading the same text again is a comparison. */
let lastNow: { readonly text: string; readonly zone: string | undefined; readonly value: FeelDateTime | null } = {
  text: '',
  zone: undefined,
  value: null,
};

/** The moment of the write as the organisation's clocks show it. */
function now({ now: text, zone, zoneOffset }: Host): FeelDateTime | null {
  if (text === undefined) return null;
  if (lastNow.text !== text || lastNow.zone !== zone) {
    const args = parseDateTime(text);
    const value = args && zone !== undefined && zoneOffset ? (inZone(instant(args), zone, zoneOffset) ?? args) : args;
    lastNow = { text, zone, value };
  }
  return lastNow.value;
}

export const temporalFunctions: readonly LanguageFunction[] = [
  {
    name: 'date',
    parameters: [from],
    alternatives: [numbers('year', 'month', 'day')],
    result: dateType,
    help: 'A date from a text, a date and time, or year, month and day.',
    examples: [
      ['date("2024-02-29") = date(2024, 2, 29)', true],
      ['date("2023-02-29")', null],
    ],
    work: 50,
    evaluate: date,
  },
  {
    name: 'time',
    parameters: [from],
    alternatives: [[...numbers('hour', 'minute', 'second'), { name: 'offset', type: anyType, optional: true }]],
    result: timeType,
    help: 'A time from a text, a date and time, or hour, minute and second.',
    examples: [
      ['time("13:20:00") = time(13, 20, 0)', true],
      ['time("25:00:00")', null],
    ],
    work: 50,
    evaluate: (args, host) => located(time(args), host.zoneOffset),
  },
  {
    name: 'date and time',
    parameters: [from],
    alternatives: [[dateLike, { name: 'time', type: timeType }]],
    result: dateTimeType,
    help: 'A date and time from a text, or from a date and a time.',
    examples: [
      ['date and time("2016-12-24T23:59:00") = date and time(date("2016-12-24"), time("23:59:00"))', true],
      ['date and time("2016-12-24T25:00:00")', null],
    ],
    work: 50,
    evaluate: (args, host) => located(dateAndTime(args), host.zoneOffset),
  },
  {
    name: 'duration',
    parameters: [{ name: 'from', type: textType }],
    result: anyType,
    help: 'A duration from an ISO 8601 text.',
    examples: [
      ['duration("P1DT2H") = duration("PT26H")', true],
      ['duration("P1Y1D")', null],
    ],
    work: 50,
    evaluate: ([v]) => (typeof v === 'string' ? parseDuration(v) : null),
  },
  {
    name: 'years and months duration',
    parameters: [
      { name: 'from', type: anyType },
      { name: 'to', type: anyType },
    ],
    result: yearsType,
    help: 'The whole months from one date to another.',
    examples: [['years and months duration(date("2011-12-22"), date("2013-08-24")) = duration("P1Y8M")', true]],
    work: 10,
    evaluate([a, b]) {
      const [first, last] = [datePart(a), datePart(b)];
      return first && last ? new YearsDuration(monthsBetween(first, last)) : null;
    },
  },
  {
    name: 'is',
    compares: true,
    parameters: [
      { name: 'value1', type: anyType },
      { name: 'value2', type: anyType },
    ],
    result: booleanType,
    help: 'Whether two values are the same, also in their type and zone.',
    examples: [
      ['is(1, 1)', true],
      ['is(date("2012-12-25"), time("23:00:50"))', false],
      ['is(time("23:00:50Z"), time("23:00:50"))', false],
    ],
    evaluate([a = null, b = null], _host, meter) {
      if (a instanceof FeelTime && b instanceof FeelTime && (a.offset !== b.offset || a.zone !== b.zone)) return false;
      if (
        a instanceof FeelDateTime &&
        b instanceof FeelDateTime &&
        (a.time.offset !== b.time.offset || a.time.zone !== b.time.zone)
      )
        return false;
      return equalValues(a, b, meter) === true;
    },
  },
  {
    name: 'today',
    clock: true,
    parameters: [],
    result: dateType,
    help: 'The day of this write, in the organisation’s zone.',
    examples: [['today() = date(now())', true]],
    work: 1,
    evaluate: (_, host) => now(host)?.date ?? null,
  },
  {
    name: 'now',
    clock: true,
    parameters: [],
    result: dateTimeType,
    help: 'The moment of this write; the same all through one write.',
    examples: [['now() >= date and time("2000-01-01T00:00:00Z")', true]],
    work: 1,
    evaluate: (_, host) => now(host),
  },
  {
    name: 'add days',
    parameters: [dateLike, { name: 'days', type: numberType }],
    result: dateType,
    help: 'The date so many days later; earlier where the number is negative.',
    examples: [
      ['add days(date("2026-11-25"), 14) = date("2026-12-09")', true],
      ['add days(date("2024-03-01"), -1) = date("2024-02-29")', true],
    ],
    work: 1,
    evaluate: ([args, days]) => {
      const from = args instanceof FeelDateTime ? args.date : args;
      return from instanceof FeelDate && typeof days === 'number' && Number.isInteger(days)
        ? addDays(from, days)
        : null;
    },
  },
  onDate(
    'day of year',
    numberType,
    'The number of the day in its year.',
    [['day of year(date(2019, 9, 17))', 260]],
    dayOfYear,
  ),
  onDate(
    'day of week',
    textType,
    'The name of the weekday.',
    [['day of week(date(2019, 9, 17))', 'Tuesday']],
    (d) => days[weekday(d) - 1]!,
  ),
  onDate(
    'month of year',
    textType,
    'The name of the month.',
    [['month of year(date(2019, 9, 17))', 'September']],
    (d) => months[d.month - 1]!,
  ),
  onDate(
    'week of year',
    numberType,
    'The number of the week by ISO 8601.',
    [
      ['week of year(date(2019, 9, 17))', 38],
      ['week of year(date(2005, 1, 1))', 53],
    ],
    weekOfYear,
  ),
];

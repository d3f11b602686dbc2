/**
 * Numbers, money and dates as an organisation writes them, and back to the neutral form that core reads: digits with a
 * point, ISO 8601 days. Both are taken wherever one is typed. What is neither comes back as it was typed, so that the
 * field type says what is wrong with it. Names and orders are those of the Unicode CLDR, through Intl.
 */

/** A BCP 47 tag and an ISO 4217 code. */
export interface Locale {
  readonly tag: string;
  readonly currency: string;
}

export interface WrittenForm {
  /** `1,234,567.50` (neutral, any digits, `%` behind it kept) with the marks of the place. */
  readonly number: (neutral: string) => string;
  /** The same with the sign of the currency. */
  /** What is no number has no sign. */
  readonly money: (neutral: string) => string;
  /** `2026-05-03` as `3 May 2026`. */
  readonly day: (iso: string) => string;
  readonly typedNumber: (text: string) => string;
  /** ISO 8601 `YYYY-MM-DD` of `3/5/2026`, `3 May 2026`, `2026-05-03`. */
  readonly typedDay: (text: string) => string;
}

export const usualTag = 'en-GB';

/** Whether Intl knows how people of this tag write. */
export function isLocale(tag: string): boolean {
  try {
    return Intl.NumberFormat.supportedLocalesOf(tag).length > 0;
  } catch {
    return false;
  }
}

const forms = new Map<string, WrittenForm>();

export function writtenForm({ tag, currency }: Locale): WrittenForm {
  const id = `${tag} ${currency}`;
  let form = forms.get(id);
  if (!form) forms.set(id, (form = createForm(isLocale(tag) ? tag : usualTag, currency)));
  return form;
}

/** Digits that are typed everywhere, whichever a place is used to. */
const anyDigits = { numberingSystem: 'latn' } as const;

/** Marks that say in which direction a text runs, and nothing else. */
const directions = /[\u061c\u200e\u200f\u202a-\u202e\u2066-\u2069]/g;
const minus = '\u2212';
const anyMinus = /[-\u2212]/g;
const startsNumber = /^[-\u2212]?\.?\d/;
const escaped = (mark: string): string => mark.replace(/[\\^$.*+?()[\]{}|]/g, '\\$&');

function createForm(tag: string, currency: string): WrittenForm {
  const parts = new Intl.NumberFormat(tag, anyDigits).formatToParts(-1234567.5);
  const mark = (type: string): string => parts.find((p) => p.type === type)?.value ?? '';
  const sign = signOf(tag, currency);
  const written = numberWriter(tag);
  const typedDay = dayReader(tag);
  const writtenDay = dayWriter(tag, typedDay);
  return {
    number: written,
    money: (neutral) => {
      if (!startsNumber.test(neutral)) return neutral;
      const text = written(neutral);
      const bare = text.replace(minus, '');
      const signed = sign.before ? `${sign.text}${sign.space}${bare}` : `${bare}${sign.space}${sign.text}`;
      return `${text.startsWith(minus) ? minus : ''}${signed}`;
    },
    day(iso) {
      const at = new Date(`${iso}T00:00:00Z`);
      return !isDay(iso) || Number.isNaN(at.getTime()) ? iso : writtenDay(at);
    },
    typedNumber: numberReader(mark('group'), mark('decimal') || '.', [sign.text.replace(directions, ''), currency]),
    typedDay,
  };
}

interface CurrencySign {
  readonly text: string;
  readonly before: boolean;
  readonly space: string;
}

function signOf(tag: string, currency: string): CurrencySign {
  let parts: Intl.NumberFormatPart[];
  try {
    parts = new Intl.NumberFormat(tag, {
      ...anyDigits,
      style: 'currency',
      currency,
      currencyDisplay: 'narrowSymbol',
    }).formatToParts(1);
  } catch {
    return { text: currency, before: false, space: '\u00a0' };
  }
  const at = parts.findIndex((p) => p.type === 'currency');
  const before = at < parts.findIndex((p) => p.type === 'integer');
  const beside = parts[before ? at + 1 : at - 1];
  return { text: parts[at]?.value ?? currency, before, space: beside?.type === 'literal' ? beside.value : '' };
}

/** Grouped as the place groups, every digit kept. */
function numberWriter(tag: string): (neutral: string) => string {
  const byDecimals = new Map<number, Intl.NumberFormat>();
  return (neutral) => {
    const [, sign = '', digits = '', rest = ''] = /^([-\u2212]?)([\d,]*(?:\.\d*)?)(.*)$/s.exec(neutral) ?? [];
    const plain = digits.replace(/,/g, '');
    if (plain === '' || plain === '.') return neutral;
    const decimals = plain.split('.')[1]?.length ?? 0;
    let format = byDecimals.get(decimals);
    if (!format)
      byDecimals.set(
        decimals,
        (format = new Intl.NumberFormat(tag, {
          minimumFractionDigits: decimals,
          maximumFractionDigits: decimals,
          ...anyDigits,
        })),
      );
    return `${sign ? minus : ''}${format.format(plain as `${number}`)}${rest}`;
  };
}

const spaces = '[\\s\\u00a0\\u202f]';

function numberReader(group: string, decimal: string, signs: readonly string[]): (text: string) => string {
  const groups = /^[\s\u00a0\u202f'\u2019]?$/.test(group) ? `[ \\u00a0\\u202f'\u2019]` : escaped(group);
  const grouped = new RegExp(`^[+-]?\\d{1,3}(?:${groups}\\d{2,3})*${groups}\\d{3}(?:${escaped(decimal)}\\d*)?$`);
  const bare = new RegExp(`^[+-]?\\d*${escaped(decimal)}\\d+$`);
  return (text) => {
    const [, number = '', percent = ''] =
      new RegExp(`^([^%]*?)(${spaces}*%?)${spaces}*$`).exec(
        withoutSign(text.replace(directions, '').trim(), signs).replace(anyMinus, '-'),
      ) ?? [];
    const compact = number.trim();
    if (grouped.test(compact))
      return compact.replace(new RegExp(groups, 'g'), '').replace(decimal, '.') + percent.trim();
    return bare.test(compact) ? compact.replace(decimal, '.') + percent.trim() : compact + percent.trim();
  };
}

/** `€1,250`, `1 250 €`, `EUR 1250`: without what says the currency. */
function withoutSign(text: string, signs: readonly string[]): string {
  for (const sign of signs) {
    const said = new RegExp(`^([+\\-\u2212]?)${spaces}*${escaped(sign)}${spaces}*|${spaces}*${escaped(sign)}$`, 'i');
    if (said.test(text)) return text.replace(said, '$1');
  }
  return text;
}

const isDay = (text: string): boolean => /^\d{4}-\d\d-\d\d$/.test(text);

const twoDigitYears = 69; // POSIX strptime %y: 69 to 99 are of the 1900s, 0 to 68 of the 2000s

/** Days are those of ISO 8601, whichever calendar a place is used to. */
export const anyPlace = { ...anyDigits, calendar: 'gregory', timeZone: 'UTC' } as const;

/** As the place writes days; as ISO 8601 where that could not be read back for what it was. */
function dayWriter(tag: string, typedDay: (text: string) => string): (at: Date) => string {
  const format = new Intl.DateTimeFormat(tag, { ...anyPlace, dateStyle: 'medium' });
  const iso = (at: Date): string => at.toISOString().slice(0, 10);
  let isReadBack: boolean | undefined;
  return (at) => {
    isReadBack ??= Array.from({ length: 12 }, (_, m) => new Date(Date.UTC(2026, m, 3 + m))).every(
      (day) => typedDay(format.format(day)) === iso(day),
    );
    return isReadBack ? format.format(at) : iso(at);
  };
}

/** Also one that is shortened between its letters: `พ.ค`. */
const word = /[\p{L}\p{M}]+(?:\.[\p{L}\p{M}]+)*/gu;

function dayReader(tag: string): (text: string) => string {
  const numeric = new Intl.DateTimeFormat(tag, { ...anyPlace, year: 'numeric', month: 'numeric', day: 'numeric' });
  const parts = numeric.formatToParts(new Date(0));
  const order = parts.flatMap((p) => (['year', 'month', 'day'].includes(p.type) ? [p.type] : []));
  let names: MonthNames | undefined;
  return (typed) => {
    const text = typed.replace(directions, '').trim().toLocaleLowerCase(tag);
    names ??= monthNames(tag);
    const numbers = text.match(/\d+/g) ?? [];
    const words = (text.match(word) ?? []).filter((w) => !names!.fillers.has(w));
    if (
      numbers.length === 3 &&
      words.length === 0 &&
      /^\d{1,4}\D{1,4}.*\d{1,4}\D{0,4}$/s.test(text) &&
      !/[+:]/.test(text)
    ) {
      const [first, second, third] = numbers as [string, string, string];
      if (first.length === 4) return isoDay(first, Number(second), Number(third)) ?? typed;
      const by = new Map(order.map((part, i) => [part, numbers[i]!]));
      return isoDay(by.get('year') ?? '', Number(by.get('month')), Number(by.get('day'))) ?? typed;
    }
    const months = new Set(words.map((w) => names!.months.get(w)));
    const [month] = months;
    if (numbers.length !== 2 || months.size !== 1 || month === undefined) return typed;
    const [a, b] = numbers as [string, string];
    const [year, day] = a.length === 4 ? [a, b] : [b, a];
    return isoDay(year, month, Number(day)) ?? typed;
  };
}

interface MonthNames {
  /** Words that belong to one month alone, to 1 to 12. */
  readonly months: ReadonlyMap<string, number>;
  /** Words around days and months that say nothing of which. */
  readonly fillers: ReadonlySet<string>;
}

/** Words that months are written with in the language of the tag and in English, long and short. */
function monthNames(tag: string): MonthNames {
  const of = new Map<string, Set<number>>([['sep', new Set([9])]]);
  const fillers = new Set<string>();
  for (const { type, text, month } of [usualTag, tag].flatMap(writtenMonths))
    for (const w of text.match(word) ?? [])
      if (type === 'month') of.set(w, (of.get(w) ?? new Set()).add(month));
      else fillers.add(w);
  const months = new Map<string, number>();
  for (const [w, numbers] of of) {
    const [only] = numbers;
    if (numbers.size === 1 && only !== undefined) months.set(w, only);
    else fillers.add(w);
  }
  return { months, fillers };
}

/** The parts of days of each month, 1 to 12, in the ways that a place writes them. */
function writtenMonths(
  tag: string,
): readonly { readonly type: string; readonly text: string; readonly month: number }[] {
  const ways = (['long', 'short'] as const).flatMap((month) => [
    { month },
    { month, day: 'numeric' } as const,
    { month, day: 'numeric', year: 'numeric' } as const,
  ]);
  return ways.flatMap((way) => {
    const format = new Intl.DateTimeFormat(tag, { ...anyPlace, ...way });
    return Array.from({ length: 12 }, (_, m) =>
      format
        .formatToParts(new Date(Date.UTC(2026, m, 1)))
        .map(({ type, value }) => ({ type, text: value.toLocaleLowerCase(tag), month: m + 1 })),
    ).flat();
  });
}

/** Undefined where there is no such day. Years of two digits are read as POSIX reads them. */
function isoDay(year: string, month: number, day: number): string | undefined {
  const n = Number(year);
  const whole = year.length <= 2 ? n + (n < twoDigitYears ? 2000 : 1900) : n;
  if (year.length === 3 || whole < 1000) return undefined;
  const at = new Date(Date.UTC(whole, month - 1, day));
  const same = at.getUTCMonth() === month - 1 && at.getUTCDate() === day;
  return same ? at.toISOString().slice(0, 10) : undefined;
}

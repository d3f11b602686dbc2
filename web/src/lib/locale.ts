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

const minus = '\u2212';
const anyMinus = /[-\u2212]/g;
const escaped = (mark: string): string => mark.replace(/[\\^$.*+?()[\]{}|]/g, '\\$&');

function createForm(tag: string, currency: string): WrittenForm {
  const parts = new Intl.NumberFormat(tag).formatToParts(-1234567.5);
  const mark = (type: string): string => parts.find((p) => p.type === type)?.value ?? '';
  const sign = signOf(tag, currency);
  const written = numberWriter(tag);
  const day = new Intl.DateTimeFormat(tag, { dateStyle: 'medium', timeZone: 'UTC' });
  return {
    number: written,
    money: (neutral) => {
      const text = written(neutral);
      const bare = text.replace(minus, '');
      const signed = sign.before ? `${sign.text}${sign.space}${bare}` : `${bare}${sign.space}${sign.text}`;
      return `${text.startsWith(minus) ? minus : ''}${signed}`;
    },
    day(iso) {
      const at = new Date(`${iso}T00:00:00Z`);
      return !isDay(iso) || Number.isNaN(at.getTime()) ? iso : day.format(at);
    },
    typedNumber: numberReader(mark('group'), mark('decimal') || '.', [sign.text, currency]),
    typedDay: dayReader(tag),
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
          numberingSystem: 'latn',
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
      new RegExp(`^([^%]*?)(${spaces}*%?)${spaces}*$`).exec(withoutSign(text.trim(), signs).replace(anyMinus, '-')) ??
      [];
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

function dayReader(tag: string): (text: string) => string {
  const order = new Intl.DateTimeFormat(tag, { year: 'numeric', month: 'numeric', day: 'numeric' })
    .formatToParts(new Date(0))
    .flatMap((p) => (['year', 'month', 'day'].includes(p.type) ? [p.type] : []));
  let months: ReadonlyMap<string, number> | undefined;
  return (typed) => {
    const text = typed.trim();
    const digits = /^(\d{1,4})[./\- ]\s*(\d{1,2})[./\- ]\s*(\d{1,4})\.?$/.exec(text);
    if (digits) {
      const [, first, second, third] = digits;
      if (first!.length === 4) return isoDay(first!, Number(second), Number(third)) ?? typed;
      const by = new Map(order.map((part, i) => [part, digits[i + 1]!]));
      return isoDay(by.get('year') ?? '', Number(by.get('month')), Number(by.get('day'))) ?? typed;
    }
    const named = text.toLocaleLowerCase(tag).match(/\p{L}+|\d+/gu) ?? [];
    const numbers = named.filter((w) => /^\d/.test(w));
    if (numbers.length !== 2) return typed;
    months ??= monthNames(tag);
    const month = named.map((w) => months!.get(w)).find((m) => m !== undefined);
    const [a, b] = numbers as [string, string];
    const [year, day] = a.length === 4 ? [a, b] : [b, a];
    return (month === undefined ? undefined : isoDay(year, month, Number(day))) ?? typed;
  };
}

/** Names of months in the language of the tag and in English, long and short, to 1 to 12. */
function monthNames(tag: string): ReadonlyMap<string, number> {
  const found = new Map<string, number>();
  for (const locale of [usualTag, tag])
    for (const month of ['long', 'short'] as const)
      for (const day of [undefined, 'numeric'] as const) {
        const format = new Intl.DateTimeFormat(locale, { month, timeZone: 'UTC', ...(day ? { day } : {}) });
        for (let m = 0; m < 12; m++) {
          const name = format.formatToParts(new Date(Date.UTC(2026, m, 1))).find((p) => p.type === 'month')?.value;
          const word = name?.toLocaleLowerCase(locale).match(/\p{L}+/u)?.[0];
          if (word) found.set(word, m + 1);
        }
      }
  found.set('sep', 9);
  return found;
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

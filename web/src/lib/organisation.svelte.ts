/** What the whole installation shares in how values are shown and typed: one organisation. Set by the layout. */
import { isolated, type Writing } from '@rigid-rule/core/language';
import { anyPlace, usualTag, writtenForm, type WrittenForm } from './locale.ts';
import { writingOf } from './writing.ts';

export const organisation = $state({ zone: 'UTC', locale: usualTag, currency: 'EUR' });

/** How the organisation writes numbers and dates. */
export const ownForm = (): WrittenForm => writtenForm({ tag: organisation.locale, currency: organisation.currency });

/** Neutral numbers, ISO 8601 days and instants in sentences, as the organisation writes them. */
export const ownSentences = {
  number: (neutral) => writingOf(organisation).number(neutral),
  money: (neutral) => writingOf(organisation).money(neutral),
  day: (iso) => writingOf(organisation).day(iso),
  instant: (iso) => writingOf(organisation).instant(iso),
  text: isolated,
} satisfies Writing;

/** A number with the organisation's marks; an ISO 8601 day as it writes days. */
export const ownWriting = (value: number | string): string =>
  typeof value === 'number' ? ownForm().number(String(value)) : ownForm().day(value);

const moments = new Map<string, Intl.DateTimeFormat>();

/** Moments as the organisation's clocks show them, in parts: only a day, only a time. Each is made once: that takes long. */
export function ownMoments(parts: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const { locale, zone } = organisation;
  const id = JSON.stringify([locale, zone, parts]);
  let format = moments.get(id);
  if (!format) moments.set(id, (format = new Intl.DateTimeFormat(locale, { ...anyPlace, timeZone: zone, ...parts })));
  return format;
}

/** The day of a moment, with its year where that is not the year of `now`. */
export function ownDay(at: Date, now = new Date()): string {
  const year = ownMoments({ year: 'numeric' });
  const day = { day: 'numeric', month: 'short' } as const;
  return ownMoments(year.format(at) === year.format(now) ? day : { ...day, year: 'numeric' }).format(at);
}

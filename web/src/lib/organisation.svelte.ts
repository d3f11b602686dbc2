/** What the whole installation shares in how values are shown and typed: one organisation. Set by the layout. */
import { anyPlace, usualTag, writtenForm, type WrittenForm } from './locale.ts';

export const organisation = $state({ zone: 'UTC', locale: usualTag, currency: 'EUR' });

/** How the organisation writes numbers and dates. */
export const ownForm = (): WrittenForm => writtenForm({ tag: organisation.locale, currency: organisation.currency });

/** Neutral numbers and ISO 8601 days in sentences, as the organisation writes them. */
export const ownSentences = {
  number: (neutral: string): string => ownForm().number(neutral),
  day: (iso: string): string => ownForm().day(iso),
};

/** A number with the organisation's marks; an ISO 8601 day as it writes days. */
export const ownWriting = (value: number | string): string =>
  typeof value === 'number' ? ownForm().number(String(value)) : ownForm().day(value);

/** Moments as the organisation's clocks show them, in parts: only a day, only a time. */
export const ownMoments = (parts: Intl.DateTimeFormatOptions): Intl.DateTimeFormat =>
  new Intl.DateTimeFormat(organisation.locale, { ...anyPlace, timeZone: organisation.zone, ...parts });

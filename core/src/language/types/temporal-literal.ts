import { parseDate, parseDateTime, parseDuration, parseTime, type Temporal } from '../../values/calendar.ts';

/** What `@"…"` stands for: a date, a time, a date and time, or a duration; null for anything else. */
export function parseTemporal(text: string): Temporal | null {
  return parseDate(text) ?? parseTime(text) ?? (text.includes('T') ? parseDateTime(text) : null) ?? parseDuration(text);
}

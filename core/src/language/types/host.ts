/** What formulas, and the fields that they read, have of the world around them. */
import type { ZoneOffset } from '../../values/zones.ts';
import type { Place, Writing } from './writing.ts';

/** What a formula asks of whoever runs it. Left out, the functions that need it give null. */
export interface Host {
  /** ISO 8601 instant of the write, in the organisation's zone with its offset: `2026-05-03T09:00:00+01:00`. */
  readonly now?: string;
  /** A regular expression that runs in linear time (RE2); null where it is none. */
  readonly pattern?: (source: string, flags: string) => Pattern | null;
  /** A phone number of a country (ISO 3166-1 alpha-2) in the form of ITU-T E.164; null where it is none. */
  readonly phone?: (text: string, country: string) => string | null;
  /** The rules of named time zones. */
  readonly zoneOffset?: ZoneOffset;
  /** IANA name of the organisation's zone: instants that records hold are read as what its clocks show. */
  readonly zone?: string;
  /** How an organisation writes what sentences tell; without it neutrally. */
  readonly writing?: (place: Place) => Writing;
}

export interface Pattern {
  /** Instructions of the compiled expression: the work for a text grows with these times its length. */
  readonly size: number;
  /** Whether it occurs in the text. */
  test(text: string): boolean;
  /** All occurrences replaced; `$1` stands for the first group. Null where the result would be longer than `most` characters. */
  replace(text: string, replacement: string, most: number): string | null;
  split(text: string): readonly string[];
}

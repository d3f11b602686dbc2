/**
 * How neutral texts stand in sentences: from `1,250.5`, `2026-05-03` and an ISO 8601 instant to what the reader's
 * organisation writes.
 */
export interface Writing {
  number(neutral: string): string;
  /** The same with the sign of the currency. */
  money(neutral: string): string;
  day(iso: string): string;
  instant(iso: string): string;
  /** What people named or typed, as it may stand in a sentence. */
  text(text: string): string;
}

/** What an organisation says of itself in its rulebook: IANA zone, BCP 47 tag, ISO 4217 code. */
export interface Place {
  readonly zone: string;
  readonly locale?: string;
  readonly currency?: string;
}

/** For what is stored and for programs to read. */
export const plainWriting: Writing = {
  number: (text) => text,
  money: (text) => text,
  day: (text) => text,
  instant: (text) => text,
  text: (text) => text,
};

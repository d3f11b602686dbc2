/** Bands and groups as the document has them. */
import { dateOfDay, dateText, dayNumber, parseDate } from '../../values/calendar.ts';
import type { Writing } from '../../language/types/writing.ts';
import { writtenLoose } from '../../language/wording/written.ts';
import type { Band } from './bands.ts';
import { type Loose, looseList, looseObject, looseText, looseTexts, readOtherwise } from './read-outcome.ts';
import type { Otherwise } from './otherwise.ts';

/** Texts or options that belong together. Case and spaces do not count. */
export interface Group {
  readonly values: readonly string[];
  readonly result: string | number;
}

/** A number or date falls into bands, a text into groups; each gives an option (or a number or text) for the target. */
export interface Categorize {
  /** FEEL, giving a number, date or text; mostly the name of a field. */
  readonly source: string;
  /** Key of the field written. */
  readonly target: string;
  /** In ascending order; boundaries that are dates stand in the document as ISO 8601 text and here as day numbers. */
  readonly bands: readonly Band[];
  readonly dates: boolean;
  /** For texts and options, instead of bands. */
  readonly groups: readonly Group[];
  readonly blank: Otherwise;
  /** The number lies in no band. */
  readonly outside: Otherwise;
}

/** Reads an outcome of unknown origin; what is missing or of the wrong shape takes its starting value. */
export function readCategorize(outcome: unknown): Categorize {
  const o = looseObject(outcome);
  return {
    source: looseText(o['source']),
    target: looseText(o['target']),
    bands: looseList(o['bands']).map(readBand),
    dates: looseList(o['bands']).some((b) => typeof b['from'] === 'string' || typeof b['to'] === 'string'),
    groups: looseList(o['groups']).map((g) => ({ values: looseTexts(g['values']), result: readResult(g['result']) })),
    blank: readOtherwise(o['blank']),
    outside: readOtherwise(o['outside']),
  };
}

function readBand({ from, to, fromOpen, toClosed, result }: Loose): Band {
  return {
    ...(from === undefined || from === null ? {} : { from: readBoundary(from) }),
    ...(fromOpen === true ? { fromOpen } : {}),
    ...(to === undefined || to === null ? {} : { to: readBoundary(to) }),
    ...(toClosed === true ? { toClosed } : {}),
    result: readResult(result),
  };
}

const readResult = (v: unknown): string | number => (typeof v === 'string' || typeof v === 'number' ? v : '');

/** A date as its day number, so that dates and numbers are one matter; what is neither is reported by the check. */
function readBoundary(v: unknown): number {
  const date = typeof v === 'string' ? parseDate(v) : null;
  return date ? dayNumber(date) : typeof v === 'number' ? v : NaN;
}

export const boundaryText = (n: number | undefined, dates: boolean, writing: Writing): string =>
  n === undefined ? 'none' : dates ? writing.day(dateText(dateOfDay(n))) : writtenLoose(n, writing);

/** CSV (RFC 4180) for spreadsheet programs. */
import Papa from 'papaparse';

/** Before the first line of a file: spreadsheet programs take it for something else than UTF-8 otherwise. */
export const byteOrderMark = '\ufeff';

/**
 * What a spreadsheet would take for a formula: cells that begin so get an apostrophe (OWASP, CSV Injection). Plain
 * numbers are none.
 */
const formulaLike = /^(?![+-]?[\d.,]+(?:e[+-]?\d+)?$)[=+\-@\t\r].*$/is;

/** Whole lines, the last one ended too. */
export const csvText = (lines: readonly (readonly string[])[]): string =>
  `${Papa.unparse(lines as string[][], { escapeFormulae: formulaLike, newline: '\r\n' })}\r\n`;

/** A stored value as it is stored: ISO 8601, a point in numbers and no groups; lists by semicolons. */
export const storedCell = (value: unknown): string =>
  value === null || value === undefined ? '' : Array.isArray(value) ? value.join(';') : String(value);

/**
 * Files of lines that somebody chooses: text with separators, or a workbook of Excel. What a file is, its first bytes say:
 * its name may say something else. The library for workbooks is loaded when one is first read.
 */
import { isEmptyLine, readCsv } from '@rigid-rule/core/formats';
import { counted } from './counted.ts';
import { readTextFile } from './text-file.ts';

export interface LineFile {
  /** The cells of each line that has any content. */
  readonly lines: readonly (readonly string[])[];
  /** Where each line stands in the file, from 1. */
  readonly numbers: readonly number[];
  /** What to look at about the file. */
  readonly note?: string;
  /** Nothing but texts: its numbers may be written as programs write them, or as people do. */
  readonly isText?: true;
}

/** What other files begin with, and what is done with those. */
const others: readonly (readonly [begins: string, advice: string])[] = [
  [
    '\u00d0\u00cf\u0011\u00e0',
    'It is a workbook of an Excel before 2007, or one with a password: save it as .xlsx without one, or as CSV.',
  ],
  ['%PDF', 'It is a PDF, whose tables nobody can read for sure: save what it was made from as .xlsx or CSV.'],
  ['{\\rtf', 'It is a text document: save its lines as CSV.'],
];
const zip = 'PK\u0003\u0004';
/** An OpenDocument file says what it is where its first entry begins. */
const openDocument = /^.{30}mimetypeapplication\/vnd\.oasis\.opendocument\./s;

/** @throws {Error} in words, where it cannot be read whole. */
export async function readLineFile(file: File): Promise<LineFile> {
  const begins = String.fromCharCode(...new Uint8Array(await file.slice(0, 80).arrayBuffer()));
  const advice = others.find(([own]) => begins.startsWith(own))?.[1];
  if (advice) throw new Error(advice);
  if (openDocument.test(begins)) throw new Error('It is an OpenDocument file: save it as .xlsx or CSV.');
  if (begins.startsWith(zip)) return workbookLines(file);
  const { text, note } = await readTextFile(file);
  if (text.includes('\0')) throw new Error('It is neither a text nor a workbook: save it as .xlsx or CSV.');
  const { problems, ...read } = readCsv(text);
  if (problems.length > 0) throw new Error(problems[0]);
  return { ...read, isText: true, ...(note ? { note } : {}) };
}

/** The first sheet that has any content; that there are more is said. */
async function workbookLines(file: File): Promise<LineFile> {
  const { default: readWorkbook } = await import('read-excel-file/universal');
  let sheets: readonly { readonly sheet: string; readonly lines: string[][] }[];
  try {
    const read = await readWorkbook(file);
    sheets = read.map(({ sheet, data }) => ({ sheet, lines: (data as unknown[][]).map((row) => row.map(cellText)) }));
  } catch (e) {
    throw new Error('The workbook cannot be read: it is damaged, or a file of another kind.', { cause: e });
  }
  const full = sheets.filter(({ lines }) => !lines.every(isEmptyLine));
  const { sheet, lines } = full[0] ?? { sheet: '', lines: [] };
  const numbers = lines.flatMap((line, i) => (isEmptyLine(line) ? [] : [i + 1]));
  return {
    lines: numbers.map((n) => lines[n - 1]!),
    numbers,
    ...(full.length > 1 ? { note: `Of its ${counted(full.length, 'sheet')} only the first, ${sheet}, was read.` } : {}),
  };
}

/** Milliseconds by which what a spreadsheet reckons of a moment may be beside it. */
const nearly = 500;

/** ISO 8601: a day, with its time where it has one, or a time of day alone, which spreadsheets hold as of the year 1899. */
function cellText(cell: unknown): string {
  if (cell === null || cell === undefined) return '';
  if (!(cell instanceof Date)) return String(cell);
  const seconds = Math.floor((cell.getTime() + nearly) / 1000);
  const [day = '', time = ''] = new Date(seconds * 1000).toISOString().slice(0, 19).split('T');
  if (cell.getUTCFullYear() < 1900) return time;
  return time === '00:00:00' ? day : `${day}T${time}`;
}

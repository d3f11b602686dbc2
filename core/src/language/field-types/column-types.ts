/** The registry of what a column of a mapping table may hold where no field says it. */
import { booleanType, dateType, numberType, textType, type Type } from '../types/types.ts';
import { quoteText } from '../types/text-literal.ts';
import type { CellValue, ColumnTypeKey } from '../../document/document.ts';
import { parseDate } from '../../values/calendar.ts';
import { Decimal, normalize, parseNumber } from '../../values/number.ts';
import type { Value } from '../../values/value.ts';

export interface ColumnType {
  readonly key: ColumnTypeKey;
  /** As messages say it: *is not …*. */
  readonly noun: string;
  /** Type inside formulas. */
  readonly type: Type;
  /** `typeRef` of DMN 1.3. */
  readonly typeRef: string;
  /** The value of a cell as formulas see it; undefined where the column cannot hold it. */
  read(cell: CellValue): Value | undefined;
  /** A cell as FEEL writes it. */
  toFeel(cell: CellValue): string;
  /** Its values are written by an organisation in its own way, as numbers. */
  readonly written?: 'number';
  /** What somebody typed, or a spreadsheet holds; undefined where it is no such value. */
  fromSheet(text: string): CellValue | undefined;
}

const literal = (cell: CellValue): string => (typeof cell === 'string' ? quoteText(cell) : String(cell));

const grouped = /^[+-]?\d{1,3}(?:,\d{3})+(?:\.\d+)?$/;

const columnTypes: Readonly<Record<ColumnTypeKey, ColumnType>> = {
  text: {
    key: 'text',
    noun: 'a text',
    type: textType,
    typeRef: 'string',
    read: String,
    toFeel: literal,
    fromSheet: (text) => text,
  },
  number: {
    key: 'number',
    noun: 'a number',
    type: numberType,
    typeRef: 'number',
    written: 'number',
    read: (cell) => (typeof cell === 'number' ? normalize(new Decimal(cell)) : undefined),
    toFeel: literal,
    fromSheet(text) {
      const n = parseNumber(grouped.test(text) ? text.replaceAll(',', '') : text);
      return typeof n === 'number' ? n : undefined;
    },
  },
  date: {
    key: 'date',
    noun: 'a date',
    type: dateType,
    typeRef: 'date',
    read: (cell) => (typeof cell === 'string' ? (parseDate(cell) ?? undefined) : undefined),
    toFeel: (cell) => (typeof cell === 'string' && parseDate(cell) ? `date(${quoteText(cell)})` : literal(cell)),
    fromSheet: (text) => (parseDate(text) ? text : undefined),
  },
  'yes/no': {
    key: 'yes/no',
    noun: 'yes or no',
    type: booleanType,
    typeRef: 'boolean',
    read: (cell) => (typeof cell === 'boolean' ? cell : undefined),
    toFeel: literal,
    fromSheet: (text) => (/^(?:yes|true|1)$/i.test(text) ? true : /^(?:no|false|0)$/i.test(text) ? false : undefined),
  },
};

/** Keys of all types, the usual one first. */
export const columnTypeKeys = Object.keys(columnTypes) as readonly ColumnTypeKey[];

/** A column that says nothing holds texts. */
export const columnTypeOf = (key: ColumnTypeKey | undefined): ColumnType => columnTypes[key ?? 'text'];

export const columnTypeOfDmn = (typeRef: unknown): ColumnType | undefined =>
  Object.values(columnTypes).find((t) => t.typeRef === typeRef);

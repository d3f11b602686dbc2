/** Cells of mapping tables as FEEL texts, and back: what DMN holds, and what a spreadsheet may hold. */
import { columnTypeOf } from '../language/field-types/column-types.ts';
import type { Expression, UnaryTest } from '../language/expression/ast.ts';
import { createOpenScope } from '../language/expression/scope.ts';
import { quoteText, unescapeText } from '../language/types/text-literal.ts';
import { sameJson } from '../document/canonical.ts';
import { cellSchema } from '../document/schema.ts';
import { shapeProblem } from '../document/shape.ts';
import type { Cell, CellValue, TableColumn } from '../document/document.ts';
import { temporalReaders } from '../compile/mapping/cells.ts';
import { dateText, FeelDate } from '../values/calendar.ts';

interface RangeCell {
  readonly from?: CellValue;
  readonly fromOpen?: boolean;
  readonly to?: CellValue;
  readonly toClosed?: boolean;
}

type ListCell = readonly CellValue[];
const isList = (c: Cell): c is ListCell => Array.isArray(c);

/** A value in FEEL. */
export type FeelWriter = (v: CellValue) => string;

/** A key cell as DMN unary tests. */
export function keyCellToFeel(cell: Cell | undefined, write: FeelWriter): string {
  if (cell === null || cell === undefined || cell === '') return '-';
  if (typeof cell !== 'object') return write(cell);
  if (isList(cell)) return cell.map(write).join(', ');
  if ('blank' in cell) return 'null';
  if ('tests' in cell) return cell.tests;
  const { from, fromOpen, to, toClosed } = cell;
  if (from === undefined) return `${toClosed ? '<=' : '<'} ${write(to!)}`;
  if (to === undefined) return `${fromOpen ? '>' : '>='} ${write(from)}`;
  return `${fromOpen ? '(' : '['}${write(from)}..${write(to)}${toClosed ? ']' : ')'}`;
}

export function outputCellToFeel(cell: Cell | undefined, write: FeelWriter): string {
  if (cell === null || cell === undefined || cell === '') return 'null';
  if (isList(cell)) return `[${cell.map(write).join(', ')}]`;
  return typeof cell === 'object' ? 'null' : write(cell);
}

const scope = createOpenScope([]);

/** `call`: the function, besides `date`, of whose values the column holds the texts. */
function literalOf(e: Expression, call = 'date'): CellValue | null | undefined {
  if (e.kind === 'call' && (e.name === 'date' || e.name === call) && e.arguments.length === 1) {
    const text = literalOf(e.arguments[0]!);
    return typeof text === 'string' && temporalReaders[e.name]?.(text) ? text : undefined;
  }
  if (e.kind !== 'literal') return undefined;
  const { value } = e;
  if (value instanceof FeelDate) return dateText(value);
  return value === null || typeof value === 'string' || typeof value === 'number' || typeof value === 'boolean'
    ? value
    : undefined;
}

export type ReadText = { readonly cell: Cell } | { readonly problem: string };

/** DMN unary tests as a key cell; what is more than values and ranges stays as the tests that it is. */
export function keyCellFromFeel(text: string, call?: string): ReadText {
  if (text.trim() === '' || text.trim() === '-') return { cell: null };
  const { tests, negated, diagnostics } = scope.parser.parseTests(text);
  if (diagnostics[0]) return { problem: diagnostics[0].message };
  if (negated) return { cell: { tests: text.trim() } };
  const range = tests.length === 1 ? rangeOf(tests[0]!, call) : undefined;
  if (range) return { cell: range };
  const values = tests.map((t) => (t.kind === 'equal' ? literalOf(t.value, call) : undefined));
  if (values.length === 1 && values[0] === null) return { cell: { blank: true } };
  if (values.some((v) => v === undefined || v === null)) return { cell: { tests: text.trim() } };
  return { cell: values.length === 1 ? values[0]! : (values as CellValue[]) };
}

function rangeOf(t: UnaryTest, call?: string): RangeCell | undefined {
  if (t.kind === 'interval') {
    const [from, to] = [literalOf(t.low, call), literalOf(t.high, call)];
    if (from === null || to === null || from === undefined || to === undefined) return undefined;
    return { from, ...(t.lowIncluded ? {} : { fromOpen: true }), to, ...(t.highIncluded ? { toClosed: true } : {}) };
  }
  if (t.kind === 'equal' && t.value.kind === 'range') return rangeOf({ ...t.value, kind: 'interval' }, call);
  const v = t.kind === 'compare' ? literalOf(t.value, call) : undefined;
  if (t.kind !== 'compare' || v === undefined || v === null) return undefined;
  switch (t.operator) {
    case '<':
      return { to: v };
    case '<=':
      return { to: v, toClosed: true };
    case '>':
      return { from: v, fromOpen: true };
    case '>=':
      return { from: v };
    default:
      return undefined;
  }
}

export function outputCellFromFeel(text: string, call?: string): ReadText {
  if (text.trim() === '') return { cell: null };
  const { expression, diagnostics } = scope.parser.parse(text);
  if (!expression) return { problem: diagnostics[0]?.message ?? 'cannot be read' };
  if (expression.kind === 'list') {
    const values = expression.items.map((item) => literalOf(item, call));
    return values.every((v) => v !== undefined && v !== null)
      ? { cell: values }
      : { problem: 'An output has to be a value that stands in the cell.' };
  }
  const value = literalOf(expression, call);
  return value === undefined ? { problem: 'An output has to be a value that stands in the cell.' } : { cell: value };
}

/** A column as a spreadsheet knows it. */
export interface SheetColumn {
  readonly column: TableColumn;
  readonly type: NonNullable<TableColumn['type']>;
  readonly isKey: boolean;
  /** Its values are lists: options of a multi-select. */
  readonly isList: boolean;
}

const blankSign = '(blank)';
const testsSign = '(tests)';
const valueSign = '(value)';

/**
 * A cell as a spreadsheet shows it. Empty is any value in a key and blank in an output, `-` is any value as well. Values
 * stand plain, lists with semicolons, ranges as FEEL; `(blank)` is a key that has to be blank, `(tests)` begins FEEL
 * tests. A text that would be read as something else, or has spaces at its ends, stands in quotation marks as in FEEL;
 * `(value)` begins a cell as JSON where none of this says it. What is written is read back as the same cell.
 */
export function cellToSheet(cell: Cell | undefined, sheet: SheetColumn): string {
  if (cell === null || cell === undefined || cell === '') return '';
  if (typeof cell !== 'object') return sheetText(cell, sheet);
  const known = texts.get(cell);
  if (known?.type === sheet.type && known.isKey === sheet.isKey && known.isList === sheet.isList) return known.text;
  const text = sheetText(cell, sheet);
  texts.set(cell, { type: sheet.type, isKey: sheet.isKey, isList: sheet.isList, text });
  return text;
}

/** Cells are immutable: grids ask for the same ones again and again. */
const texts = new WeakMap<object, Omit<SheetColumn, 'column'> & { readonly text: string }>();

function sheetText(cell: Exclude<Cell, null>, sheet: SheetColumn): string {
  for (const text of written(cell, sheet)) {
    const read = cellFromSheet(text, sheet);
    if ('cell' in read && sameJson(read.cell, cell)) return text;
  }
  return `${valueSign} ${JSON.stringify(cell)}`;
}

/** Ways to write a cell, the plainest first. */
function written(cell: Exclude<Cell, null>, { column, isList: listColumn }: SheetColumn): string[] {
  if (typeof cell === 'string') return listColumn ? [quoteText(cell)] : [...plainOnly(cell), quoteText(cell)];
  if (typeof cell !== 'object') return [String(cell)];
  if (isList(cell)) {
    const items = cell.map((v) => (typeof v === 'string' ? (plainOnly(v)[0] ?? quoteText(v)) : String(v)));
    const quoted = cell.map((v) => (typeof v === 'string' ? quoteText(v) : String(v)));
    return [items.join('; '), `${items.join('; ')};`, `${quoted.join('; ')};`];
  }
  if ('blank' in cell) return [blankSign];
  return 'tests' in cell ? [`${testsSign} ${cell.tests}`] : [keyCellToFeel(cell, columnTypeOf(column.type).toFeel)];
}

/** Beginnings that a spreadsheet takes for a formula are quoted as well. */
const plainOnly = (text: string): string[] =>
  text === '' || text.trim() !== text || /^[=+@"\t\r]|^-|;/.test(text) ? [] : [text];

/** What the text of a spreadsheet cell means in a column: see `cellToSheet`. */
export function cellFromSheet(text: string, { type, isKey, isList: listColumn }: SheetColumn): ReadText {
  const trimmed = text.trim();
  if (trimmed === '' || (isKey && trimmed === '-')) return { cell: null };
  if (trimmed.startsWith(valueSign)) return cellFromJson(trimmed.slice(valueSign.length));
  if (isKey && trimmed.toLowerCase() === blankSign) return { cell: { blank: true } };
  if (isKey && trimmed.startsWith(testsSign)) return { cell: { tests: trimmed.slice(testsSign.length).trim() } };
  if (isKey && /^(?:[[\](].*\.\..*[[\])]|[<>]=?\s*\S+)$/s.test(trimmed)) {
    const read = keyCellFromFeel(trimmed);
    if ('problem' in read || typeof read.cell === 'object') return read;
  }
  if (isQuoted(trimmed)) return { cell: unescapeText(trimmed) };
  const parts = isKey || listColumn ? listParts(trimmed) : [trimmed];
  const values: CellValue[] = [];
  for (const part of parts) {
    const value = isQuoted(part) ? unescapeText(part) : columnTypeOf(type).fromSheet(part);
    if (value === undefined) return { problem: `${part} is not ${columnTypeOf(type).noun}` };
    values.push(value);
  }
  const single = parts.length === 1 && !trimmed.endsWith(';') && !listColumn;
  return { cell: single ? values[0]! : values };
}

const isQuoted = (text: string): boolean => /^"(?:\\.|[^"\\])*"$/s.test(text);

/** The items between semicolons; those inside quotation marks do not count. */
const listParts = (text: string): string[] =>
  [...text.matchAll(/(?:"(?:\\.|[^"\\])*"|[^;])+/gs)].map(([part]) => part.trim()).filter((part) => part !== '');

function cellFromJson(text: string): ReadText {
  try {
    const cell: unknown = JSON.parse(text);
    return shapeProblem(cell, cellSchema) ? { problem: 'cannot stand in a cell' } : { cell: cell as Cell };
  } catch {
    return { problem: 'cannot stand in a cell' };
  }
}

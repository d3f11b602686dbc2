/** Cells of mapping tables as FEEL texts, and back: what DMN holds, and what a spreadsheet may hold. */
import type { Expression, UnaryTest } from '../expression/ast.ts';
import { createOpenScope } from '../expression/scope.ts';
import { quoteText } from '../expression/text-literal.ts';
import type { Cell, CellValue, TableColumn } from '../rulebook/document.ts';
import { dateText, FeelDate, parseDate } from '../values/calendar.ts';
import { parseNumber } from '../values/number.ts';

interface RangeCell {
  readonly from?: CellValue;
  readonly fromOpen?: boolean;
  readonly to?: CellValue;
  readonly toClosed?: boolean;
}

type ListCell = readonly CellValue[];
const isList = (c: Cell): c is ListCell => Array.isArray(c);

function feelValue(v: CellValue, { type }: TableColumn): string {
  if (typeof v !== 'string') return String(v);
  return type === 'date' && parseDate(v) ? `date(${quoteText(v)})` : quoteText(v);
}

/** A key cell as DMN unary tests. */
export function keyCellToFeel(cell: Cell | undefined, column: TableColumn): string {
  if (cell === null || cell === undefined || cell === '') return '-';
  if (typeof cell !== 'object') return feelValue(cell, column);
  if (isList(cell)) return cell.map((v) => feelValue(v, column)).join(', ');
  if ('blank' in cell) return 'null';
  if ('tests' in cell) return cell.tests;
  const { from, fromOpen, to, toClosed } = cell as RangeCell;
  if (from === undefined) return `${toClosed ? '<=' : '<'} ${feelValue(to!, column)}`;
  if (to === undefined) return `${fromOpen ? '>' : '>='} ${feelValue(from, column)}`;
  return `${fromOpen ? '(' : '['}${feelValue(from, column)}..${feelValue(to, column)}${toClosed ? ']' : ')'}`;
}

export function outputCellToFeel(cell: Cell | undefined, column: TableColumn): string {
  if (cell === null || cell === undefined || cell === '') return 'null';
  if (isList(cell)) return `[${cell.map((v) => feelValue(v, column)).join(', ')}]`;
  return typeof cell === 'object' ? 'null' : feelValue(cell, column);
}

const scope = createOpenScope([]);

function literalOf(e: Expression): CellValue | null | undefined {
  if (e.kind === 'negation') {
    const inner = literalOf(e.operand);
    return typeof inner === 'number' ? -inner : undefined;
  }
  if (e.kind === 'call' && e.name === 'date' && e.arguments.length === 1) {
    const text = literalOf(e.arguments[0]!);
    return typeof text === 'string' && parseDate(text) ? text : undefined;
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
export function keyCellFromFeel(text: string): ReadText {
  if (text.trim() === '' || text.trim() === '-') return { cell: null };
  const { tests, negated, diagnostics } = scope.parser.parseTests(text);
  if (diagnostics[0]) return { problem: diagnostics[0].message };
  if (negated) return { cell: { tests: text.trim() } };
  const range = tests.length === 1 ? rangeOf(tests[0]!) : undefined;
  if (range) return { cell: range };
  const values = tests.map((t) => (t.kind === 'equal' ? literalOf(t.value) : undefined));
  if (values.length === 1 && values[0] === null) return { cell: { blank: true } };
  if (values.some((v) => v === undefined || v === null)) return { cell: { tests: text.trim() } };
  return { cell: values.length === 1 ? values[0]! : (values as CellValue[]) };
}

function rangeOf(t: UnaryTest): RangeCell | undefined {
  if (t.kind === 'interval') {
    const [from, to] = [literalOf(t.low), literalOf(t.high)];
    if (from === null || to === null || from === undefined || to === undefined) return undefined;
    return { from, ...(t.lowIncluded ? {} : { fromOpen: true }), to, ...(t.highIncluded ? { toClosed: true } : {}) };
  }
  if (t.kind === 'equal' && t.value.kind === 'range') return rangeOf({ ...t.value, kind: 'interval' });
  const v = t.kind === 'compare' ? literalOf(t.value) : undefined;
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

export function outputCellFromFeel(text: string): ReadText {
  if (text.trim() === '') return { cell: null };
  const { expression, diagnostics } = scope.parser.parse(text);
  if (!expression) return { problem: diagnostics[0]?.message ?? 'cannot be read' };
  if (expression.kind === 'list') {
    const values = expression.items.map(literalOf);
    return values.every((v) => v !== undefined && v !== null)
      ? { cell: values as CellValue[] }
      : { problem: 'An output has to be a value that stands in the cell.' };
  }
  const value = literalOf(expression);
  return value === undefined ? { problem: 'An output has to be a value that stands in the cell.' } : { cell: value };
}

/** A cell as a spreadsheet shows it: values plain, lists with semicolons, ranges as FEEL, `(blank)`; empty is any. */
export function cellToSheet(cell: Cell | undefined, column: TableColumn): string {
  if (cell === null || cell === undefined) return '';
  if (typeof cell !== 'object') return String(cell);
  if (isList(cell)) return cell.map(String).join('; ');
  if ('blank' in cell) return '(blank)';
  return keyCellToFeel(cell, column);
}

/** What a spreadsheet cell means in a column of a type; ranges only in keys. */
export function cellFromSheet(
  text: string,
  type: NonNullable<TableColumn['type']>,
  isKey: boolean,
  isList_: boolean,
): ReadText {
  const trimmed = text.trim();
  if (trimmed === '' || (isKey && trimmed === '-')) return { cell: null };
  if (isKey && trimmed.toLowerCase() === '(blank)') return { cell: { blank: true } };
  if (isKey && /^(?:[[\](].*\.\..*[[\])]|[<>]=?\s*\S+)$/.test(trimmed)) {
    const read = keyCellFromFeel(trimmed);
    if ('problem' in read || typeof read.cell === 'object') return read;
  }
  const parts = (isKey || isList_) && trimmed.includes(';') ? trimmed.split(';') : [trimmed];
  const values = parts
    .map((p) => p.trim())
    .filter((p) => p !== '')
    .map((p) => plainFromSheet(p, type));
  const bad = values.find((v) => v === undefined);
  if (values.includes(undefined) && bad === undefined) return { problem: `${trimmed} is no ${type}` };
  if (isList_) return { cell: values as CellValue[] };
  return { cell: values.length === 1 ? values[0]! : (values as CellValue[]) };
}

function plainFromSheet(text: string, type: NonNullable<TableColumn['type']>): CellValue | undefined {
  if (type === 'number') {
    const n = parseNumber(/^[+-]?\d{1,3}(?:,\d{3})+(?:\.\d+)?$/.test(text) ? text.replaceAll(',', '') : text);
    return typeof n === 'number' ? n : undefined;
  }
  if (type === 'yes/no')
    return /^(?:yes|true|1)$/i.test(text) ? true : /^(?:no|false|0)$/i.test(text) ? false : undefined;
  if (type === 'date') return parseDate(text) ? text : undefined;
  return text;
}

/** One cell of a mapping table: what it accepts or gives, checked against its column. */
import { diagnostic, nowhere, type Diagnostic } from '../../diagnostics/catalog.ts';
import type { Expression, UnaryTest } from '../../language/expression/ast.ts';
import { checkTests } from '../../language/expression/check.ts';
import { compileTests } from '../../language/expression/compile.ts';
import { createOpenScope } from '../../language/expression/scope.ts';
import { columnTypeOf } from '../../language/field-types/column-types.ts';
import { fieldTypeOf } from '../../language/field-types/index.ts';
import { writtenLoose } from '../../language/wording/written.ts';
import type { Writing } from '../../language/types/writing.ts';
import type { Cell, CellValue, Field, TableColumn } from '../../document/document.ts';
import { dateText, FeelDate, parseDate, parseDateTime, parseDuration, parseTime } from '../../values/calendar.ts';
import { foldedKey } from '../../values/unicode-case.ts';
import { isNumber, numberToText } from '../../values/number.ts';
import type { Meter } from '../../values/meter.ts';
import { FeelRange, identityOf, inRange, isBlank, isTemporal, type Value } from '../../values/value.ts';

/** A column with the field whose values it holds, where it has one. */
export interface BoundColumn {
  readonly column: TableColumn;
  readonly field: Field | undefined;
}

/** What a key cell accepts: anything, one of some plain values, or what a test says. */
export type KeyCell =
  | { readonly kind: 'any' }
  | { readonly kind: 'values'; readonly keys: readonly string[]; readonly values: readonly Value[] }
  | { readonly kind: 'range'; readonly range: FeelRange }
  | { readonly kind: 'blank' }
  | {
      readonly kind: 'tests';
      readonly accepts: (v: Value, meter: Meter) => boolean;
      /** The values that it compares with, where it does nothing else; between them it never changes its mind. */
      readonly mentions?: readonly Value[];
    };

export type ReadCell<T> = { readonly cell: T } | { readonly problem: Diagnostic };

const isPlain = (v: unknown): v is CellValue =>
  typeof v === 'string' || typeof v === 'number' || typeof v === 'boolean';

/** The value of a plain cell as formulas see it; a diagnostic where the column cannot hold it. */
function plainValue(input: CellValue, { column, field }: BoundColumn): Value | Diagnostic {
  if (field) {
    const type = fieldTypeOf(field);
    // A multi-select as a key is looked up by each of its options.
    const coerced = type.coerce(input, field);
    if (!('problem' in coerced)) {
      const v = type.read(coerced.value, field);
      return Array.isArray(v) ? ((v as readonly Value[])[0] ?? null) : v;
    }
    return diagnostic('table.value', nowhere, { column: column.name, value: String(input), problem: coerced.problem });
  }
  const type = columnTypeOf(column.type);
  const value = type.read(input);
  if (value !== undefined) return value;
  return diagnostic('table.value', nowhere, {
    column: column.name,
    value: String(input),
    problem: `is not ${type.noun}`,
  });
}

const isDiagnostic = (v: unknown): v is Diagnostic => typeof v === 'object' && v !== null && 'code' in v;

/** The text by which plain values are looked up; null for what has none (ranges, lists, contexts, records). */
export function hashKey(v: Value, column: TableColumn): string | null {
  if (typeof v === 'string')
    return v === '' ? null : `s${column.match === 'folded' || column.match === 'prefix' ? keyText(v, column) : v}`;
  if (isNumber(v)) return `n${numberToText(v)}`;
  if (typeof v === 'boolean') return v ? 'b1' : 'b0';
  if (v instanceof FeelDate) return `d${dateText(v)}`;
  return isTemporal(v) ? identityOf(v)! : null;
}

const keyText = (v: string, { match }: TableColumn): string =>
  match === 'prefix' ? foldedKey(v).replace(/ /g, '') : foldedKey(v);

export function readKeyCell(cell: Cell | undefined, bound: BoundColumn): ReadCell<KeyCell> {
  if (cell === null || cell === undefined || cell === '') return { cell: { kind: 'any' } };
  if (isPlain(cell) || Array.isArray(cell)) {
    const all = (isPlain(cell) ? [cell] : (cell as readonly CellValue[])).map((v) => plainValue(v, bound));
    const problem = all.find(isDiagnostic);
    if (problem) return { problem };
    const values = all as readonly Value[];
    const keys = values.map((v) => hashKey(v, bound.column));
    if (keys.length === 0 || keys.includes(null)) return { problem: unreadable(bound) };
    return { cell: { kind: 'values', keys: keys as string[], values } };
  }
  if ('blank' in cell) return { cell: { kind: 'blank' } };
  if ('tests' in cell) return readTests(cell.tests, bound);
  const range = cell as { from?: CellValue; fromOpen?: boolean; to?: CellValue; toClosed?: boolean };
  const ends = [range.from, range.to].map((end) => (end === undefined ? null : plainValue(end, bound)));
  const problem = ends.find(isDiagnostic);
  if (problem) return { problem };
  const [low, high] = ends as Value[];
  if (low === null && high === null) return { problem: unreadable(bound) };
  return {
    cell: { kind: 'range', range: new FeelRange(low!, high!, range.fromOpen !== true, range.toClosed === true) },
  };
}

const unreadable = ({ column }: BoundColumn): Diagnostic =>
  diagnostic('table.value', nowhere, { column: column.name, value: 'The cell', problem: 'cannot be read' });

const cellScope = createOpenScope([]);

function readTests(text: string, { column }: BoundColumn): ReadCell<KeyCell> {
  const { tests, negated, diagnostics } = cellScope.parser.parseTests(text);
  const error = diagnostics[0];
  if (error)
    return { problem: diagnostic('table.tests', error.range, { column: column.name, problem: error.message }) };
  const checked = checkTests(tests, cellScope);
  if (checked.diagnostics[0]) {
    const [{ range, message }] = checked.diagnostics as [Diagnostic];
    return { problem: diagnostic('table.tests', range, { column: column.name, problem: message }) };
  }
  const run = compileTests(tests, negated, checked);
  const mentions = mentionedIn(tests);
  return {
    cell: {
      ...(mentions ? { mentions } : {}),
      kind: 'tests',
      accepts: (v, meter) => run({ record: [], previous: [], variables: [v], meter }) === true,
    },
  };
}

/** The constants in tests that only compare with such; undefined where there is more. */
function mentionedIn(tests: readonly UnaryTest[]): readonly Value[] | undefined {
  const found: Value[] = [];
  for (const t of tests) {
    const parts = t.kind === 'interval' ? [t.low, t.high] : [t.value];
    for (const e of parts) {
      const v = constantOf(e);
      if (v === undefined) return undefined;
      found.push(...v);
    }
  }
  return found;
}

/** What makes a day, a time, a moment or a duration of a constant text, by the function that formulas call. */
export const temporalReaders: Readonly<Record<string, (text: string) => Value>> = {
  date: parseDate,
  time: parseTime,
  'date and time': parseDateTime,
  duration: parseDuration,
};

function constantOf(e: Expression): readonly Value[] | undefined {
  if (e.kind === 'literal') return e.value === null ? [] : [e.value];
  if (e.kind === 'list' || e.kind === 'range') {
    const items = (e.kind === 'list' ? e.items : [e.low, e.high]).map(constantOf);
    return items.every((i) => i !== undefined) ? items.flat() : undefined;
  }
  if (e.kind !== 'call') return undefined;
  const [only] = e.arguments;
  const text = only?.kind === 'literal' && e.arguments.length === 1 ? only.value : undefined;
  const value = typeof text === 'string' ? temporalReaders[e.name]?.(text) : undefined;
  return value ? [value] : undefined;
}

/** The value of an output cell as formulas see it; multi-selects are lists. */
export function readOutputCell(cell: Cell | undefined, bound: BoundColumn): ReadCell<Value> {
  if (cell === null || cell === undefined || cell === '') return { cell: null };
  if (isPlain(cell) || Array.isArray(cell)) {
    const list = isPlain(cell) ? [cell] : (cell as readonly CellValue[]);
    const values = list.map((v) => plainValue(v, bound));
    const problem = values.find(isDiagnostic);
    if (problem) return { problem };
    const multi = Array.isArray(cell) || (bound.field !== undefined && fieldTypeOf(bound.field).chooses === 'many');
    return { cell: multi ? (values as Value[]) : (values[0] as Value) };
  }
  return { problem: unreadable(bound) };
}

/** Steps to look at one cell. */
const cellPrice = 3;

export function acceptsCell(cell: KeyCell, v: Value, key: string | null, meter: Meter): boolean {
  meter.spend(cellPrice);
  switch (cell.kind) {
    case 'any':
      return true;
    case 'values':
      return key !== null && cell.keys.includes(key);
    case 'range':
      return inRange(v, cell.range) === true;
    case 'blank':
      return isBlank(v);
    case 'tests':
      return cell.accepts(v, meter);
  }
}

/** A cell as people read it. */
export function cellText(cell: Cell | undefined, writing: Writing): string {
  if (cell === null || cell === undefined || cell === '') return 'any';
  if (typeof cell === 'number') return writtenLoose(cell, writing);
  if (isPlain(cell)) return String(cell);
  if (Array.isArray(cell)) return (cell as readonly CellValue[]).map((c) => cellText(c, writing)).join(', ');
  if ('blank' in cell) return 'blank';
  if ('tests' in cell) return cell.tests;
  const { from, fromOpen, to, toClosed } = cell as {
    from?: CellValue;
    fromOpen?: boolean;
    to?: CellValue;
    toClosed?: boolean;
  };
  const low = from === undefined ? '' : `${fromOpen ? 'above' : 'from'} ${cellText(from, writing)}`;
  const high = to === undefined ? '' : `${toClosed ? 'up to' : 'below'} ${cellText(to, writing)}`;
  return [low, high].filter(Boolean).join(', ');
}

/**
 * The rows of a mapping table as far as they are kept: by what each is found, and what is wrong in it. What its cells hold
 * is read anew for who asks, so that a long table takes little more memory than its text.
 */
import { diagnostic, nowhere, type Diagnostic } from '../../diagnostics/catalog.ts';
import type { Cell, MappingTable } from '../../document/document.ts';
import type { Value } from '../../values/value.ts';
import { readKeyCell, readOutputCell, type BoundColumn, type KeyCell } from './cells.ts';

export type Row = Readonly<Record<string, Cell>>;

/** The columns of a table, each with the field that it is bound to. */
export interface BoundColumns {
  readonly keys: readonly BoundColumn[];
  readonly outputs: readonly BoundColumn[];
}

/**
 * By what a row is found: texts of its shape and of the keys in its plain cells, one for each way to take a value of every
 * list. `cells` are kept where some have to be looked at one by one.
 */
interface ListedRow {
  readonly texts: readonly string[];
  readonly cells?: readonly KeyCell[];
}

/** A row with one plain value in each key column, as nearly all have, is its one text. */
type RowEntry = string | ListedRow;

/** Ends the shape and each key in the text of a row. */
export const textEnd = '\0';
/** In place of a key: the column has to be blank. */
export const blankKey = '-';

/** The shape of a row has a letter for each key column: how its cell is compared. */
type CellShape = 'any' | 'hashed' | 'tried';
export const shapeLetters: Readonly<Record<CellShape, string>> = { any: 'a', hashed: 'h', tried: 't' };

/** Texts that one row has at most. Of a row that would have more, the longest lists are tried instead of hashed. */
const mostTexts = 1000;

const rowsInStep = 500;

type Problem = readonly [columnKey: string, problem: Diagnostic];

export class TableRows {
  private constructor(
    readonly rows: readonly Row[],
    readonly entries: readonly RowEntry[],
    private readonly columns: BoundColumns,
    private readonly problems: ReadonlyMap<Row, readonly Problem[]>,
  ) {}

  /** Rows are immutable: those that `before`, of the same columns, has are not read again. */
  static *read({ rows }: MappingTable, columns: BoundColumns, before?: TableRows): Generator<void, TableRows> {
    const known = before ? knownEntries(before, rows) : () => undefined;
    const entries: RowEntry[] = [];
    const problems = new Map<Row, readonly Problem[]>();
    for (const [i, row] of rows.entries()) {
      if (i % rowsInStep === 0) yield;
      const entry = known(i);
      const read = entry === undefined ? readRow(row, columns) : { entry, problems: before!.problems.get(row) };
      entries.push(read.entry);
      if (read.problems?.length) problems.set(row, read.problems);
    }
    return new TableRows(rows, entries, columns, problems);
  }

  /** What is wrong in rows, in their order, each at its cell. */
  *diagnostics(): Iterable<Diagnostic> {
    if (this.problems.size === 0) return;
    for (const [i, row] of this.rows.entries())
      for (const [key, problem] of this.problems.get(row) ?? []) yield { ...problem, path: `/rows/${i}/${key}` };
  }

  /** What the key cells of a row accept. */
  keyCells(index: number): readonly KeyCell[] {
    const entry = this.entries[index]!;
    if (typeof entry !== 'string' && entry.cells) return entry.cells;
    const row = this.rows[index]!;
    return this.columns.keys.map((bound) => readKey(row, bound, []));
  }

  /** A text for each key that a row accepts; undefined where they cannot be listed. */
  texts(index: number): readonly string[] | undefined {
    const entry = this.entries[index]!;
    const texts = typeof entry === 'string' ? [entry] : entry.cells ? [] : entry.texts;
    const shape = texts[0]?.slice(0, this.columns.keys.length);
    return shape === undefined || shape.includes(shapeLetters.any) ? undefined : texts;
  }

  /** What a row gives. */
  values(index: number): readonly Value[] {
    const row = this.rows[index]!;
    return this.columns.outputs.map((bound) => readOutput(row, bound, []));
  }
}

/** The entries of rows that stood in a table before; a few rows among many are found without looking up the others. */
function knownEntries(before: TableRows, rows: readonly Row[]): (index: number) => RowEntry | undefined {
  const { rows: old, entries } = before;
  const shorter = Math.min(old.length, rows.length);
  let first = 0;
  while (first < shorter && old[first] === rows[first]) first++;
  let last = 0;
  while (last < shorter - first && old.at(-1 - last) === rows.at(-1 - last)) last++;
  const between = new Map<Row, RowEntry>();
  for (let i = first; i < old.length - last; i++) between.set(old[i]!, entries[i]!);
  return (i) => {
    if (i < first) return entries[i];
    return i < rows.length - last ? between.get(rows[i]!) : entries[i - rows.length + old.length];
  };
}

function readKey(row: Row, bound: BoundColumn, problems: Problem[]): KeyCell {
  const read = readKeyCell(row[bound.column.key], bound);
  if ('cell' in read) return read.cell;
  problems.push([bound.column.key, read.problem]);
  return { kind: 'any' };
}

function readOutput(row: Row, bound: BoundColumn, problems: Problem[]): Value {
  const read = readOutputCell(row[bound.column.key], bound);
  if ('cell' in read) return read.cell;
  problems.push([bound.column.key, read.problem]);
  return null;
}

function readRow(row: Row, { keys, outputs }: BoundColumns): { entry: RowEntry; problems: readonly Problem[] } {
  const problems: Problem[] = [];
  const cells = keys.map((bound) => readKey(row, bound, problems));
  for (const bound of outputs) readOutput(row, bound, problems);
  for (const key of Object.keys(row))
    if (![...keys, ...outputs].some((b) => b.column.key === key))
      problems.push([key, diagnostic('table.no-column', nowhere, { column: key })]);
  return { entry: entryOf(cells), problems };
}

function entryOf(cells: readonly KeyCell[]): RowEntry {
  const shapes = shapesOf(cells);
  const letters = shapes.map((s) => shapeLetters[s]).join('');
  const hashed = cells.filter((_, i) => shapes[i] === 'hashed').map(keysOf);
  const texts = combinations(hashed, `${letters}${textEnd}`);
  if (shapes.includes('tried')) return { texts, cells };
  return texts.length === 1 ? texts[0]! : { texts };
}

function shapesOf(cells: readonly KeyCell[]): readonly CellShape[] {
  const sizes = cells.map((c) => (c.kind === 'values' || c.kind === 'blank' ? keysOf(c).length : 0));
  let texts = sizes.reduce((n, size) => n * Math.max(1, size), 1);
  while (texts > mostTexts) {
    const longest = sizes.indexOf(Math.max(...sizes));
    texts /= sizes[longest]!;
    sizes[longest] = 0;
  }
  return cells.map((c, i) => (c.kind === 'any' ? 'any' : sizes[i]! > 0 ? 'hashed' : 'tried'));
}

/** The keys by which a cell of plain values, or for a blank, is found. */
const keysOf = (cell: KeyCell): readonly string[] => (cell.kind === 'values' ? [...new Set(cell.keys)] : [blankKey]);

/** Every way to take one of each, as one text after `begin`. */
const combinations = (columns: readonly (readonly string[])[], begin = ''): string[] =>
  columns.reduce<string[]>((so, keys) => so.flatMap((s) => keys.map((k) => `${s}${k}${textEnd}`)), [begin]);

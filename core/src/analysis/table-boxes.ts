/**
 * The key space of a mapping table cut into boxes in which every row accepts all or nothing: each column falls into its
 * boundary points, the stretches between them, options and texts that are named, and blank. One value stands for each.
 */
import { columnTypeOf } from '../language/field-types/column-types.ts';
import { fieldTypeOf } from '../language/field-types/index.ts';
import { acceptsCell, hashKey, type BoundColumn, type KeyCell } from '../compile/mapping/cells.ts';
import type { CompiledTable } from '../compile/mapping/table.ts';
import { dateOfDay, dateText, dayNumber, FeelDate } from '../values/calendar.ts';
import { Meter } from '../values/meter.ts';
import { isNumber, numberToText } from '../values/number.ts';
import { isBlank, valueToText, type Value } from '../values/value.ts';
import { groupDigits } from '../language/field-types/number.ts';

/** A piece of one column. */
export interface Atom {
  /** A value of it. */
  readonly value: Value;
  /** As a sentence says it: `Spain`, `between 9 and 12`. */
  readonly text: string;
  /** Nobody expects a row for it: blank, texts that no row names, numbers beyond all rows. */
  readonly natural: boolean;
  /** Rows that accept it, in order. */
  readonly rows: readonly number[];
}

export interface Box {
  readonly atoms: readonly Atom[];
  readonly rows: readonly number[];
}

export interface Boxes {
  /** Boxes that two rows or more accept. */
  readonly shared: readonly Box[];
  /** By row: 1 where it is the only one that accepts some box. */
  readonly alone: Uint8Array;
  /** Boxes that no row accepts; `atoms` ends where no row was left. */
  readonly gaps: readonly Box[];
  /** Rows whose tests cannot be cut into pieces: they accept no box, and whatever there is in `gaps`. */
  readonly opaque: ReadonlySet<number>;
  /** False where there were more boxes than can be looked at. */
  readonly complete: boolean;
}

const mostBoxes = 200_000;

const known = new WeakMap<CompiledTable, Boxes>();

export function boxesOf(table: CompiledTable): Boxes {
  let boxes = known.get(table);
  if (!boxes) known.set(table, (boxes = new Cutter(table).cut()));
  return boxes;
}

class Cutter {
  private readonly columns: readonly (readonly Atom[])[];
  private readonly opaque = new Set<number>();
  private readonly shared: Box[] = [];
  private readonly alone: Uint8Array;
  private readonly gaps: Box[] = [];
  private readonly marks: Uint8Array;
  private left = mostBoxes;

  constructor(table: CompiledTable) {
    this.marks = new Uint8Array(table.rowCount);
    this.alone = new Uint8Array(table.rowCount);
    const columns = table.keyColumns.map((bound, i) => ({ bound, cells: table.cellsOf(i) }));
    for (const { cells } of columns)
      cells.forEach((c, row) => {
        if (c.kind === 'tests' && !c.mentions) this.opaque.add(row);
      });
    this.columns = columns.map(({ bound, cells }) => atomsOf(bound, cells, this.opaque));
  }

  cut(): Boxes {
    this.within(0, [...this.marks.keys()], []);
    const { shared, alone, gaps, opaque } = this;
    return { shared, alone, gaps, opaque, complete: this.left > 0 };
  }

  private within(column: number, rows: readonly number[], atoms: readonly Atom[]): void {
    const sure = rows.filter((r) => !this.opaque.has(r));
    if (rows.length === 0 || column === this.columns.length) {
      if (sure.length > 1) this.shared.push({ atoms, rows: sure });
      else if (sure.length === 1) this.alone[sure[0]!] = 1;
      else if (rows.length === 0 && !atoms.at(-1)?.natural && !atoms.some(isBlankAtom))
        this.gaps.push({ atoms, rows: [] });
      return;
    }
    for (const atom of this.columns[column]!) {
      if (this.left-- <= 0) return;
      this.within(column + 1, this.both(rows, atom.rows), [...atoms, atom]);
    }
  }

  private both(a: readonly number[], b: readonly number[]): readonly number[] {
    if (a.length === this.marks.length) return b;
    const [few, many] = a.length < b.length ? [a, b] : [b, a];
    for (const r of few) this.marks[r] = 1;
    const found = many.filter((r) => this.marks[r] === 1);
    for (const r of few) this.marks[r] = 0;
    return found;
  }
}

/** Values at which some cell of a column changes its mind. */
function mentioned(cells: readonly KeyCell[]): Value[] {
  return cells.flatMap((c): readonly Value[] => {
    if (c.kind === 'values') return c.values;
    if (c.kind === 'range') return [c.range.low, c.range.high].filter((v) => v !== null);
    return c.kind === 'tests' ? (c.mentions ?? []) : [];
  });
}

type Piece = Omit<Atom, 'rows'>;

function atomsOf(bound: BoundColumn, cells: readonly KeyCell[], opaque: ReadonlySet<number>): readonly Atom[] {
  const pieces = piecesOf(bound, cells);
  const plain = new Map<string, number[]>();
  const rest: number[] = [];
  cells.forEach((cell, row) => {
    if (cell.kind !== 'values' || opaque.has(row)) rest.push(row);
    else for (const key of new Set(cell.keys)) plain.set(key, [...(plain.get(key) ?? []), row]);
  });
  const meter = new Meter();
  return pieces.map((piece): Atom => {
    const key = hashKey(piece.value, bound.column);
    meter.reset();
    const loose = rest.filter((row) => {
      const cell = cells[row]!;
      return (cell.kind === 'tests' && !cell.mentions) || acceptsCell(cell, piece.value, key, meter);
    });
    const exact = key === null ? [] : (plain.get(key) ?? []);
    const rows = loose.length === 0 ? exact : exact.length === 0 ? loose : [...exact, ...loose].sort((a, b) => a - b);
    return { ...piece, rows };
  });
}

function piecesOf({ column, field }: BoundColumn, cells: readonly KeyCell[]): Piece[] {
  const blank: Piece = { value: null, text: 'blank', natural: true };
  const values = mentioned(cells);
  const type = field ? fieldTypeOf(field).typeOf(field) : columnTypeOf(column.type).type;
  if (field?.options) {
    const rowless = new Set(values.map((v) => valueToText(v)));
    const open = cells.some((c) => c.kind !== 'values' && c.kind !== 'blank');
    return [
      ...field.options.map((o): Piece => ({ value: o.name, text: o.name, natural: !open && !rowless.has(o.name) })),
      blank,
    ];
  }
  if (type.kind === 'boolean')
    return [{ value: true, text: 'yes', natural: false }, { value: false, text: 'no', natural: false }, blank];
  const numbers = values.map(axis).filter((n) => n !== undefined);
  if (numbers.length > 0) {
    const dates = values.some((v) => v instanceof FeelDate);
    const ranged = cells.some((c) => c.kind === 'range' || c.kind === 'tests');
    return [
      ...stretches(
        numbers,
        dates,
        ranged,
        dates ? 1 : field && fieldTypeOf(field).step?.(field),
        field?.min,
        field?.max,
      ),
      blank,
    ];
  }
  const texts = [...new Set(values.filter((v) => typeof v === 'string'))];
  const other = texts.reduce((longest, t) => (t.length >= longest.length ? `${t}\u{10ffff}` : longest), '\u{10ffff}');
  return [
    ...texts.map((t): Piece => ({ value: t, text: t, natural: false })),
    { value: other, text: 'another text', natural: true },
    blank,
  ];
}

const axis = (v: Value): number | undefined =>
  v instanceof FeelDate ? dayNumber(v) : isNumber(v) ? Number(numberToText(v)) : undefined;

/** Points and what lies between and beyond them; between two neighbours of the field's step there is nothing. */
function stretches(
  numbers: readonly number[],
  dates: boolean,
  ranged: boolean,
  step: number | undefined,
  min: number | undefined,
  max: number | undefined,
): Piece[] {
  const value = (n: number): Value => (dates ? dateOfDay(Math.round(n)) : n);
  const text = (n: number): string => (dates ? dateText(dateOfDay(n)) : groupDigits(n));
  const bounds = [min, max].filter((n) => n !== undefined);
  const points = [...new Set([...numbers, ...bounds])].sort((a, b) => a - b);
  const found: Piece[] = [];
  points.forEach((p, i) => {
    if ((min === undefined || p >= min) && (max === undefined || p <= max))
      found.push({ value: value(p), text: text(p), natural: false });
    const next = points[i + 1];
    if (next === undefined) return;
    const inner = between(p, next, step);
    if (inner !== undefined && (min === undefined || p >= min) && (max === undefined || next <= max))
      found.push({ value: value(inner), text: `between ${text(p)} and ${text(next)}`, natural: !ranged });
  });
  const [first, last] = [points[0]!, points.at(-1)!];
  if (min === undefined) found.unshift({ value: value(first - 1), text: `below ${text(first)}`, natural: true });
  if (max === undefined) found.push({ value: value(last + 1), text: `above ${text(last)}`, natural: true });
  return found;
}

/** A number between two others that is a multiple of the step; undefined where there is none. */
function between(low: number, high: number, step: number | undefined): number | undefined {
  if (step === undefined) return (low + high) / 2;
  const next = (Math.floor(low / step + 1e-9) + 1) * step;
  const exact = Number(next.toPrecision(15));
  return exact < high ? exact : undefined;
}

const isBlankAtom = ({ value }: Atom): boolean => isBlank(value);

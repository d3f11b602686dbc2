/**
 * The key space of a mapping table cut into boxes in which every row accepts all or nothing: each column falls into its
 * boundary points, the stretches between them, options and texts that are named, and blank. One value stands for each.
 */
import { columnTypeOf } from '../language/field-types/column-types.ts';
import { fieldTypeOf } from '../language/field-types/index.ts';
import { acceptsCell, hashKey, type BoundColumn, type KeyCell } from '../compile/mapping/cells.ts';
import type { CompiledTable } from '../compile/mapping/table.ts';
import type { Field } from '../document/document.ts';
import { dateOfDay, dayNumber, DaysDuration, FeelDate, FeelDateTime, FeelTime, instant } from '../values/calendar.ts';
import { Meter } from '../values/meter.ts';
import { isNumber, numberToText } from '../values/number.ts';
import { isBlank, valueToText, type Value } from '../values/value.ts';
import type { Writing } from '../language/types/writing.ts';
import { writtenLoose } from '../language/wording/written.ts';
import { onceEach } from '../values/once-each.ts';

/** A piece of one column. */
export interface Atom {
  /** A value of it. */
  readonly value: Value;
  /** As a sentence says it: `Spain`, `between 9 and 12`. */
  /** As people read it. */
  readonly text: (writing: Writing) => string;
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

export const boxesOf = onceEach((table: CompiledTable): Boxes => new Cutter(table).cut());

class Cutter {
  /** The first column is gone through once. */
  private readonly columns: readonly Iterable<Atom>[];
  private readonly opaque: ReadonlySet<number>;
  private readonly shared: Box[] = [];
  private readonly alone: Uint8Array;
  private readonly gaps: Box[] = [];
  private readonly marks: Uint8Array;
  private left = mostBoxes;

  constructor(table: CompiledTable) {
    this.marks = new Uint8Array(table.rowCount);
    this.alone = new Uint8Array(table.rowCount);
    const columns = table.keyColumns.map((bound, i) => new KeyColumn(bound, table, i));
    this.opaque = new Set(columns.flatMap((c) => c.opaque));
    this.columns = columns.map((c, i) => (i === 0 ? c.atoms() : [...c.atoms()]));
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

type Piece = Omit<Atom, 'rows'>;

/** What the cells of one key column say. */
class KeyColumn {
  private readonly bound: BoundColumn;
  /** Rows by the keys of their plain cells. */
  private readonly plain = new Map<string, number | number[]>();
  private readonly others: { readonly row: number; readonly cell: KeyCell }[] = [];
  /** Values at which some cell changes its mind. */
  private readonly mentioned: Value[] = [];
  readonly opaque: number[] = [];

  constructor(bound: BoundColumn, table: CompiledTable, column: number) {
    this.bound = bound;
    for (let row = 0; row < table.rowCount; row++) this.add(row, table.keyCells(row)[column]!);
  }

  private add(row: number, cell: KeyCell): void {
    if (cell.kind === 'values') return this.addPlain(row, cell);
    this.others.push({ row, cell });
    if (cell.kind === 'range') this.mentioned.push(...[cell.range.low, cell.range.high].filter((v) => v !== null));
    if (cell.kind !== 'tests') return;
    this.mentioned.push(...(cell.mentions ?? []));
    if (!cell.mentions) this.opaque.push(row);
  }

  private addPlain(row: number, { keys, values }: Extract<KeyCell, { kind: 'values' }>): void {
    this.mentioned.push(...values);
    for (const key of new Set(keys)) {
      const rows = this.plain.get(key);
      if (Array.isArray(rows)) rows.push(row);
      else this.plain.set(key, rows === undefined ? row : [rows, row]);
    }
  }

  *atoms(): Generator<Atom, void> {
    const meter = new Meter();
    for (const piece of piecesOf(this.bound, this.mentioned, this.others)) {
      const key = hashKey(piece.value, this.bound.column);
      meter.reset();
      const exact = key === null ? [] : [this.plain.get(key) ?? []].flat();
      const tried = this.others.flatMap(({ row, cell }) => {
        const isOpaque = cell.kind === 'tests' && !cell.mentions;
        return isOpaque || acceptsCell(cell, piece.value, key, meter) ? [row] : [];
      });
      const rows = tried.length === 0 ? exact : [...exact, ...tried].sort((a, b) => a - b);
      yield { ...piece, rows };
    }
  }
}

function* piecesOf(
  { column, field }: BoundColumn,
  mentioned: readonly Value[],
  others: readonly { readonly cell: KeyCell }[],
): Iterable<Piece> {
  const type = field ? fieldTypeOf(field).typeOf(field) : columnTypeOf(column.type).type;
  const compared = others.some(({ cell }) => cell.kind === 'range' || cell.kind === 'tests');
  const axis = axes.find((a) => mentioned.some((v) => a.place(v) !== undefined));
  if (field?.options) {
    const named = new Set(mentioned.map((v) => valueToText(v)));
    const open = others.some(({ cell }) => cell.kind !== 'blank');
    for (const o of field.options) yield { value: o.name, text: () => o.name, natural: !open && !named.has(o.name) };
  } else if (type.kind === 'boolean') {
    yield { value: true, text: () => 'yes', natural: false };
    yield { value: false, text: () => 'no', natural: false };
  } else if (axis) {
    yield* stretches(axis, mentioned, compared, field);
  } else {
    const folds = column.match !== undefined && column.match !== 'exact';
    yield* textPieces(new Set(mentioned.filter((v) => typeof v === 'string')), compared, folds);
  }
  yield { value: null, text: () => 'blank', natural: true };
}

/**
 * Texts that cells name, and one that none does. Where cells compare, also one between each and the next; where plain cells
 * take a text however it is written (`folds`), other ways to write it, since others take it as it stands.
 */
function* textPieces(texts: ReadonlySet<string>, compared: boolean, folds: boolean): Iterable<Piece> {
  let longest = '';
  if (compared) yield { value: justAfter, text: () => 'a text before all', natural: true };
  for (const text of texts) {
    if (text.length >= longest.length) longest = text;
    yield { value: text, text: () => text, natural: false };
    if (!compared) continue;
    yield { value: `${text}${justAfter}`, text: () => `a text after ${text}`, natural: true };
    if (!folds) continue;
    for (const other of writtenOtherwise(text))
      if (!texts.has(other)) yield { value: other, text: () => other, natural: true };
  }
  yield { value: `${longest}\u{10ffff}`, text: () => 'another text', natural: true };
}

/** The first character that is no blank: behind a text it gives the next one, as far as people write them. */
const justAfter = '!';

/** The same text in other letters. */
const writtenOtherwise = (text: string): ReadonlySet<string> =>
  new Set([text.toLowerCase(), text.toUpperCase(), text.slice(0, 1).toUpperCase() + text.slice(1).toLowerCase()]);

/** Values with an order, as numbers along a line. */
interface Axis {
  /** Where a value lies; undefined for values of another kind. */
  place(v: Value): number | undefined;
  /** The value at a place. */
  value(place: number): Value;
  /** Between two neighbours of it there is nothing. */
  step?(field: Field | undefined): number | undefined;
}

const nanosInUnit = 1_000_000;
const millisecondsInDay = 86_400_000;
const nanosOf = (milliseconds: number): bigint => BigInt(Math.round(milliseconds * nanosInUnit));

/** Numbers, days, and milliseconds of instants and of durations. */
const axes: readonly Axis[] = [
  {
    place: (v) => (isNumber(v) ? Number(numberToText(v)) : undefined),
    value: (n) => n,
    step: (field) => field && fieldTypeOf(field).step?.(field),
  },
  {
    place: (v) => (v instanceof FeelDate ? dayNumber(v) : undefined),
    value: (n) => dateOfDay(Math.round(n)),
    step: () => 1,
  },
  {
    place: (v) => (v instanceof FeelDateTime ? Number(instant(v)) / nanosInUnit : undefined),
    value(n) {
      const day = Math.floor(n / millisecondsInDay);
      return new FeelDateTime(dateOfDay(day), new FeelTime(nanosOf(n - day * millisecondsInDay), 0));
    },
  },
  {
    place: (v) => (v instanceof DaysDuration ? Number(v.nanos) / nanosInUnit : undefined),
    value: (n) => new DaysDuration(nanosOf(n)),
  },
];

/** Points and what lies between and beyond them; between two neighbours of the field's step there is nothing. */
function stretches(axis: Axis, mentioned: readonly Value[], ranged: boolean, field: Field | undefined): Piece[] {
  const { min, max } = field ?? {};
  const step = axis.step?.(field);
  const values = new Map<number, Value>();
  for (const v of [...mentioned, min ?? null, max ?? null]) {
    const place = axis.place(v);
    if (place !== undefined) values.set(place, v);
  }
  const points = [...values.keys()].sort((a, b) => a - b);
  const text = (place: number, writing: Writing): string => writtenLoose(values.get(place)!, writing);
  const found: Piece[] = [];
  points.forEach((p, i) => {
    if ((min === undefined || p >= min) && (max === undefined || p <= max))
      found.push({ value: values.get(p)!, text: (w) => text(p, w), natural: false });
    const next = points[i + 1];
    if (next === undefined) return;
    const inner = between(p, next, step);
    if (inner !== undefined && (min === undefined || p >= min) && (max === undefined || next <= max))
      found.push({
        value: axis.value(inner),
        text: (w) => `between ${text(p, w)} and ${text(next, w)}`,
        natural: !ranged,
      });
  });
  const [first, last] = [points[0]!, points.at(-1)!];
  if (min === undefined)
    found.unshift({ value: axis.value(first - 1), text: (w) => `below ${text(first, w)}`, natural: true });
  if (max === undefined)
    found.push({ value: axis.value(last + 1), text: (w) => `above ${text(last, w)}`, natural: true });
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

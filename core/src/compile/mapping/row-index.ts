/** Finds the rows of a table that accept keys: by hash, by binary search among ranges, and by trying what is left. */
import type { Meter } from '../../values/meter.ts';
import { FeelDate } from '../../values/calendar.ts';
import { isNumber } from '../../values/number.ts';
import { isBlank, orderValues, type Value } from '../../values/value.ts';
import { acceptsCell, hashKey } from './cells.ts';
import { blankKey, shapeLetters, textEnd, type BoundColumns, type TableRows } from './rows.ts';

/** Rows of one shape: which of their columns are in their texts, and which are tried. */
interface Shape {
  readonly begin: string;
  readonly hashed: readonly number[];
  readonly tried: readonly number[];
}

interface Interval {
  readonly low: Value;
  readonly lowIncluded: boolean;
  readonly high: Value;
  readonly highIncluded: boolean;
  readonly row: number;
}

/** Fewer rows than this are looked through faster than searched. */
const fewRows = 6;

const rowsInStep = 500;

export class RowIndex {
  private readonly shapes = new Map<string, Shape>();
  /** Rows by their texts, one or several. */
  private readonly found = new Map<string, number | number[]>();
  /** Ranges of the one column that is tried, ascending and apart, where that is so. */
  private readonly intervals = new Map<string, readonly Interval[]>();

  private constructor(
    private readonly rows: TableRows,
    private readonly columns: BoundColumns,
  ) {}

  static *of(rows: TableRows, columns: BoundColumns): Generator<void, RowIndex> {
    const index = new RowIndex(rows, columns);
    for (const [i, entry] of rows.entries.entries()) {
      if (i % rowsInStep === 0) yield;
      if (typeof entry === 'string') index.add(entry, i);
      else for (const text of entry.texts) index.add(text, i);
    }
    index.searchRanges();
    return index;
  }

  private add(text: string, row: number): void {
    const there = this.found.get(text);
    if (Array.isArray(there)) there.push(row);
    else this.found.set(text, there === undefined ? row : [there, row]);
    if (there === undefined) this.learnShape(text);
  }

  private learnShape(text: string): void {
    const letters = text.slice(0, this.columns.keys.length);
    if (this.shapes.has(letters)) return;
    const at = (letter: string): number[] => [...letters].flatMap((l, i) => (l === letter ? [i] : []));
    const [hashed, tried] = [at(shapeLetters.hashed), at(shapeLetters.tried)];
    this.shapes.set(letters, { begin: `${letters}${textEnd}`, hashed, tried });
  }

  private searchRanges(): void {
    for (const [text, rows] of this.found) {
      if (!Array.isArray(rows) || rows.length <= fewRows) continue;
      const { tried } = this.shapes.get(text.slice(0, this.columns.keys.length))!;
      const intervals = tried.length === 1 ? this.intervalsOf(rows, tried[0]!) : undefined;
      if (intervals) this.intervals.set(text, intervals);
    }
  }

  /** Indexes of the rows that accept the keys, in row order. @throws {Exhausted} where that takes more than a formula may. */
  matching(keys: readonly Value[], meter: Meter): readonly number[] {
    const hashes = keys.map((v, i) => hashKey(v, this.columns.keys[i]!.column));
    let found: readonly number[] = [];
    for (const shape of this.shapes.values()) {
      const more = this.ofShape(shape, keys, hashes, meter);
      if (more.length > 0) found = found.length === 0 ? more : [...found, ...more].sort((a, b) => a - b);
    }
    return found;
  }

  private ofShape(
    { begin, hashed, tried }: Shape,
    keys: readonly Value[],
    hashes: readonly (string | null)[],
    meter: Meter,
  ): readonly number[] {
    let text = begin;
    for (const i of hashed) text += `${hashes[i] ?? (isBlank(keys[i]!) ? blankKey : '?')}${textEnd}`;
    const found = this.found.get(text);
    if (found === undefined) return [];
    const rows = typeof found === 'number' ? [found] : found;
    if (tried.length === 0) return rows;
    const intervals = this.intervals.get(text);
    if (intervals) {
      const row = searchInterval(intervals, keys[tried[0]!]!);
      return row === undefined ? [] : [row];
    }
    return rows.filter((r) => {
      const cells = this.rows.keyCells(r);
      return tried.every((i) => acceptsCell(cells[i]!, keys[i]!, hashes[i]!, meter));
    });
  }

  /** Ranges in ascending order; undefined where two overlap or one is of another kind. */
  private intervalsOf(indexes: readonly number[], column: number): readonly Interval[] | undefined {
    const found: Interval[] = [];
    for (const row of indexes) {
      const cell = this.rows.keyCells(row)[column]!;
      if (cell.kind !== 'range') return undefined;
      const { low, high, lowIncluded, highIncluded } = cell.range;
      found.push({ low, high, lowIncluded, highIncluded, row });
    }
    const ends = found.flatMap(({ low, high }) => [low, high]).filter((v) => v !== null);
    if (!ends.every(isNumber) && !ends.every((v) => v instanceof FeelDate)) return undefined;
    found.sort((a, b) =>
      a.low === null || b.low === null ? rankOf(a.low) - rankOf(b.low) : orderValues(a.low, b.low)!,
    );
    const apart = found.every((b, i) => i === 0 || isBefore(found[i - 1]!, b));
    return apart ? found : undefined;
  }
}

/** An open end is before all values. */
const rankOf = (low: Value): number => (low === null ? 0 : 1);

function isBefore(a: Interval, b: Interval): boolean {
  if (a.high === null || b.low === null) return false;
  const order = orderValues(a.high, b.low)!;
  return order < 0 || (order === 0 && !(a.highIncluded && b.lowIncluded));
}

function searchInterval(intervals: readonly Interval[], v: Value): number | undefined {
  let [low, high] = [0, intervals.length - 1];
  while (low <= high) {
    const middle = (low + high) >> 1;
    const at = intervals[middle]!;
    const below = at.low === null ? 1 : orderValues(v, at.low);
    const above = at.high === null ? -1 : orderValues(v, at.high);
    // A value of another kind is in none of them.
    if (below === null || above === null) return undefined;
    if (below < 0 || (below === 0 && !at.lowIncluded)) {
      high = middle - 1;
      continue;
    }
    if (above < 0 || (above === 0 && at.highIncluded)) return at.row;
    low = middle + 1;
  }
  return undefined;
}

/**
 * A mapping table compiled: rows found by hash where cells are plain values and by binary search where they are ranges
 * that do not overlap; what is found becomes an answer by the hit policy (OMG DMN 1.3, 8.2.10).
 */
import { diagnostic, hasErrors, nowhere, type Diagnostic } from '../../diagnostics/catalog.ts';
import type { Hit, LookupTable } from '../../language/expression/related.ts';
import { columnField } from '../../language/expression/shapes.ts';
import type { Cell, MappingTable, Rulebook } from '../../document/document.ts';
import { Meter } from '../../values/meter.ts';
import { add, compareNumbers, isNumber, type Num } from '../../values/number.ts';
import { equalValues, isBlank, orderValues, type ContextValue, type Value } from '../../values/value.ts';
import { acceptsCell, hashKey, readKeyCell, readOutputCell, type BoundColumn, type KeyCell } from './cells.ts';

export interface TableRow {
  readonly keys: readonly KeyCell[];
  readonly values: readonly Value[];
}

export interface CompiledTable extends LookupTable {
  readonly table: MappingTable;
  readonly keyColumns: readonly BoundColumn[];
  readonly outputColumns: readonly BoundColumn[];
  readonly compiled: readonly TableRow[];
  readonly diagnostics: readonly Diagnostic[];
  /** Indexes of the rows that accept the keys, in row order. @throws {Exhausted} where that takes more than a formula may. */
  matching(keys: readonly Value[]): readonly number[];
}

const compiledTables = new WeakMap<MappingTable, { recordTypes: unknown; compiled: CompiledTable }>();

/** Tables are immutable: one that did not change is not compiled again while the fields that it is bound to stay. */
export function compileTable(table: MappingTable, book: Pick<Rulebook, 'recordTypes'>): CompiledTable {
  const bound = [...table.keys, ...table.outputs].map((column) => columnField(column, book));
  const known = compiledTables.get(table);
  const fields = known?.recordTypes as readonly unknown[] | undefined;
  if (known && fields?.every((f, i) => f === bound[i])) return known.compiled;
  const compiled = new Table(table, bound);
  compiledTables.set(table, { recordTypes: bound, compiled });
  return compiled;
}

/** Does the work of compiling a table and of its first lookup in steps, for who has to do other things in between. */
export function* prepareTable(table: MappingTable, book: Pick<Rulebook, 'recordTypes'>): Generator<void, void> {
  const fields = [...table.keys, ...table.outputs].map((column) => columnField(column, book));
  yield* new Table({ ...table, rows: [] }, fields).readAhead(table.rows);
  const compiled = compileTable(table, book);
  if (compiled instanceof Table) yield* compiled.makeReady();
}

type Row = Readonly<Record<string, Cell>>;

const rowsInStep = 500;

/** A row as it was read, with what is wrong in it by column key. */
interface ReadRow {
  readonly row: TableRow;
  readonly problems: readonly (readonly [string, Diagnostic])[];
}

interface KnownRows {
  readonly outputs: MappingTable['outputs'];
  readonly fields: readonly BoundColumn['field'][];
  readonly rows: WeakMap<Row, ReadRow>;
}
const knownRows = new WeakMap<MappingTable['keys'], KnownRows>();

/** Rows are immutable: while the columns stay, an edit of one row reads that one anew. */
function readRows(table: MappingTable, fields: readonly BoundColumn['field'][]): WeakMap<Row, ReadRow> {
  const known = knownRows.get(table.keys);
  if (known?.outputs === table.outputs && known.fields.every((f, i) => f === fields[i])) return known.rows;
  const rows = new WeakMap<Row, ReadRow>();
  knownRows.set(table.keys, { outputs: table.outputs, fields, rows });
  return rows;
}

const blankKey = '-';

class Table implements CompiledTable {
  readonly table: MappingTable;
  readonly keyColumns: readonly BoundColumn[];
  readonly outputColumns: readonly BoundColumn[];
  readonly compiled: readonly TableRow[];
  readonly diagnostics: readonly Diagnostic[];
  private found: readonly Bucket[] | undefined;
  private readonly prefixColumn: number;
  private contexts: readonly ContextValue[] | undefined;
  private readonly columns = new Map<string, ReadonlyMap<string, readonly ContextValue[]> | null>();

  constructor(table: MappingTable, fields: readonly BoundColumn['field'][]) {
    this.table = table;
    this.keyColumns = table.keys.map((column, i) => ({ column, field: fields[i] }));
    this.outputColumns = table.outputs.map((column, i) => ({ column, field: fields[table.keys.length + i] }));
    const diagnostics: Diagnostic[] = [...this.checkFrame()];
    const known = readRows(table, fields);
    this.compiled = table.rows.map((row, i) => {
      let read = known.get(row);
      if (!read) known.set(row, (read = this.readRow(row)));
      for (const [key, problem] of read.problems) diagnostics.push({ ...problem, path: `/rows/${i}/${key}` });
      return read.row;
    });
    this.prefixColumn = table.keys.findIndex((c) => c.match === 'prefix');
    this.diagnostics = diagnostics;
  }

  private checkFrame(): Diagnostic[] {
    const { keys, outputs, hitPolicy, aggregation } = this.table;
    const found: Diagnostic[] = [];
    if (keys.length === 0) found.push(diagnostic('table.no-key', nowhere, {}, '/keys'));
    if (outputs.length === 0) found.push(diagnostic('table.no-output', nowhere, {}, '/outputs'));
    const names = [...keys, ...outputs].map((c) => c.name);
    const twice = names.find((name, i) => names.indexOf(name) !== i);
    if (twice !== undefined) found.push(diagnostic('table.column-twice', nowhere, { column: twice }, '/keys'));
    for (const { column, field } of [...this.keyColumns, ...this.outputColumns])
      if (column.field && !field)
        found.push(diagnostic('table.no-field', nowhere, { column: column.name, field: column.field }, '/keys'));
    if (aggregation && hitPolicy !== 'collect')
      found.push(diagnostic('table.aggregation', nowhere, { policy: hitPolicy }, '/aggregation'));
    if (hitPolicy === 'priority' || hitPolicy === 'output order')
      for (const [i, c] of outputs.entries())
        if (!c.order?.length && !this.outputColumns[i]!.field?.options)
          found.push(
            diagnostic('table.no-order', nowhere, { column: c.name, policy: hitPolicy }, `/outputs/${i}/order`),
          );
    return found;
  }

  /** Made when a row is first looked for; a table with mistakes finds none. */
  private get buckets(): readonly Bucket[] {
    if (!this.found) for (const _ of this.makeReady());
    return this.found!;
  }

  *makeReady(): Generator<void, void> {
    this.found ??= hasErrors(this.diagnostics) ? [] : yield* bucketsOf(this.compiled);
  }

  /** Reads rows, of this table or one with its columns, so that a table with them has little to do. */
  *readAhead(rows: readonly Row[]): Generator<void, void> {
    const known = readRows(
      this.table,
      [...this.keyColumns, ...this.outputColumns].map((c) => c.field),
    );
    for (const [i, row] of rows.entries()) {
      if (i % rowsInStep === 0) yield;
      if (!known.has(row)) known.set(row, this.readRow(row));
    }
  }

  private readRow(row: Row): ReadRow {
    const problems: [string, Diagnostic][] = [];
    const report = (problem: Diagnostic, key: string): void => void problems.push([key, problem]);
    const keys = this.keyColumns.map((bound): KeyCell => {
      const read = readKeyCell(row[bound.column.key], bound);
      if ('cell' in read) return read.cell;
      report(read.problem, bound.column.key);
      return { kind: 'any' };
    });
    const values = this.outputColumns.map((bound) => {
      const read = readOutputCell(row[bound.column.key], bound);
      if ('cell' in read) return read.cell;
      report(read.problem, bound.column.key);
      return null;
    });
    const columns = new Set([...this.keyColumns, ...this.outputColumns].map((b) => b.column.key));
    for (const key of Object.keys(row))
      if (!columns.has(key)) report(diagnostic('table.no-column', nowhere, { column: key }), key);
    return { row: { keys, values }, problems };
  }

  private readonly meter = new Meter();

  matching(keys: readonly Value[]): readonly number[] {
    this.meter.reset();
    if (this.prefixColumn < 0) return this.lookUp(keys);
    const text = keys[this.prefixColumn];
    if (typeof text !== 'string') return this.lookUp(keys);
    // The longest beginning that some row has decides; rows for any value come last.
    const all = [...text];
    for (let n = all.length; n > 0; n--) {
      const tried = keys.map((k, i) => (i === this.prefixColumn ? all.slice(0, n).join('') : k));
      const found = this.lookUp(tried).filter((r) => this.compiled[r]!.keys[this.prefixColumn]!.kind !== 'any');
      if (found.length > 0) return found;
    }
    return this.lookUp(keys).filter((r) => this.compiled[r]!.keys[this.prefixColumn]!.kind === 'any');
  }

  private lookUp(keys: readonly Value[]): readonly number[] {
    const hashes = keys.map((v, i) => hashKey(v, this.keyColumns[i]!.column));
    if (this.buckets.length === 1) return this.inBucket(this.buckets[0]!, keys, hashes);
    return this.buckets.flatMap((b) => this.inBucket(b, keys, hashes)).sort((a, b) => a - b);
  }

  private inBucket(bucket: Bucket, keys: readonly Value[], hashes: readonly (string | null)[]): readonly number[] {
    let key = '';
    for (const i of bucket.hashed) key += `${hashes[i] ?? (isBlank(keys[i]!) ? blankKey : '?')}\0`;
    const group = bucket.groups.get(key);
    if (!group) return [];
    const { rows, intervals } = group;
    if (bucket.rest.length === 0) return rows;
    if (intervals) {
      const row = searchInterval(intervals, keys[bucket.rest[0]!]!);
      return row === undefined ? [] : [row];
    }
    return rows.filter((r) =>
      bucket.rest.every((i) => acceptsCell(this.compiled[r]!.keys[i]!, keys[i]!, hashes[i]!, this.meter)),
    );
  }

  find(keys: readonly Value[]): Hit {
    const rows = this.matching(keys);
    if (rows.length === 0) {
      const none = this.table.hitPolicy === 'collect' && this.table.aggregation === 'count';
      return none ? { found: 'one', rows, values: [0] } : { found: 'none' };
    }
    const { compiled } = this;
    const one = (row: number): Hit => ({ found: 'one', rows: [row], values: compiled[row]!.values });
    switch (this.table.hitPolicy) {
      case 'first':
        return one(rows[0]!);
      case 'any': {
        const first = compiled[rows[0]!]!.values;
        const agree = rows.every((r) => compiled[r]!.values.every((v, i) => sameOutput(v, first[i]!)));
        return agree ? one(rows[0]!) : { found: 'several', rows };
      }
      case 'priority':
        return one(this.byOutput(rows)[0]!);
      case 'rule order':
        return this.all(rows);
      case 'output order':
        return this.all(this.byOutput(rows));
      case 'collect':
        return this.table.aggregation ? this.aggregate(rows) : this.all(rows);
      case 'unique':
        return rows.length === 1 ? one(rows[0]!) : { found: 'several', rows };
    }
  }

  private all(rows: readonly number[]): Hit {
    const values = this.outputColumns.map((_, i) => rows.flatMap((r) => this.compiled[r]!.values[i] ?? []));
    return { found: 'one', rows, values };
  }

  /** DMN: sum, min and max of numbers (min and max of whatever has an order), count of distinct values. */
  private aggregate(rows: readonly number[]): Hit {
    const values = this.outputColumns.map((_, i): Value => {
      const input = rows.map((r) => this.compiled[r]!.values[i]!).filter((v) => !isBlank(v));
      if (this.table.aggregation === 'count') return input.length;
      if (input.length === 0) return null;
      if (this.table.aggregation === 'sum')
        return input.every(isNumber)
          ? (input as readonly Num[]).reduce<Num | null>((a, b) => (a === null ? a : add(a, b)), 0)
          : null;
      const sign = this.table.aggregation === 'min' ? -1 : 1;
      return input.reduce((best, v) => ((orderValues(v, best) ?? 0) * sign > 0 ? v : best));
    });
    return { found: 'one', rows, values };
  }

  /** Rows by the order of their outputs, the first column first; those alike stay in row order. */
  private byOutput(rows: readonly number[]): readonly number[] {
    const ranks = this.outputColumns.map(({ column, field }) => {
      const order = column.order ?? field?.options?.map((o) => o.name) ?? [];
      return (v: Value): number => {
        const at = order.findIndex((o) => o === v);
        return at < 0 ? order.length : at;
      };
    });
    return [...rows].sort((a, b) => {
      for (const [i, rank] of ranks.entries()) {
        const by = rank(this.compiled[a]!.values[i]!) - rank(this.compiled[b]!.values[i]!);
        if (by !== 0) return by;
      }
      return a - b;
    });
  }

  /** The rows as formulas see them. */
  get rows(): readonly ContextValue[] {
    return (this.contexts ??= this.compiled.map(
      (row) =>
        new Map<string, Value>([
          ...this.keyColumns.map(({ column }, i) => [column.name, keyValue(row.keys[i]!)] as const),
          ...this.outputColumns.map(({ column }, i) => [column.name, row.values[i]!] as const),
        ]),
    ));
  }

  equal(column: string, v: Value): readonly ContextValue[] | undefined {
    let index = this.columns.get(column);
    if (index === undefined) this.columns.set(column, (index = this.indexColumn(column)));
    const key = isNumber(v) || typeof v === 'string' || typeof v === 'boolean' ? plainKey(v) : null;
    return index && key !== null ? (index.get(key) ?? []) : undefined;
  }

  private indexColumn(column: string): ReadonlyMap<string, readonly ContextValue[]> | null {
    const index = new Map<string, ContextValue[]>();
    for (const row of this.rows) {
      const v = row.get(column) ?? null;
      if (v === null) continue;
      if (!isNumber(v) && typeof v !== 'string' && typeof v !== 'boolean') return null;
      const list = index.get(plainKey(v));
      if (list) list.push(row);
      else index.set(plainKey(v), [row]);
    }
    return index;
  }
}

const plainKey = (v: Num | string | boolean): string => (isNumber(v) ? `n${String(v)}` : `${typeof v}${String(v)}`);
const sameOutput = (a: Value, b: Value): boolean => equalValues(a, b) === true;

/** A key cell in a formula: its value, the list of them, its range, or blank for any. */
function keyValue(cell: KeyCell): Value {
  if (cell.kind === 'values') return cell.values.length === 1 ? cell.values[0]! : cell.values;
  return cell.kind === 'range' ? cell.range : null;
}

interface Interval {
  readonly low: Value;
  readonly lowIncluded: boolean;
  readonly high: Value;
  readonly highIncluded: boolean;
  readonly row: number;
}

interface Group {
  readonly rows: number[];
  /** Ranges of the one column left, ascending and apart, where that is so. */
  intervals?: readonly Interval[];
}

/** Rows that are alike in which of their cells are plain values: these are hashed, the rest is looked at. */
interface Bucket {
  readonly hashed: readonly number[];
  readonly rest: readonly number[];
  readonly groups: Map<string, Group>;
}

/** Fewer rows than this are looked through faster than searched. */
const fewRows = 6;

function* bucketsOf(rows: readonly TableRow[]): Generator<void, Bucket[]> {
  const buckets = new Map<string, Bucket>();
  for (const [index, row] of rows.entries()) {
    if (index % rowsInStep === 0) yield;
    const plain = row.keys.map((c) => c.kind === 'values' || c.kind === 'blank');
    const signature = plain.map(Number).join('') + row.keys.map((c) => (c.kind === 'any' ? 'a' : 'r')).join('');
    let bucket = buckets.get(signature);
    if (!bucket) {
      const at = (wanted: boolean): number[] => plain.flatMap((p, i) => (p === wanted ? [i] : []));
      const rest = at(false).filter((i) => row.keys[i]!.kind !== 'any');
      buckets.set(signature, (bucket = { hashed: at(true), rest, groups: new Map() }));
    }
    for (const key of combinations(bucket.hashed.map((i) => keysOf(row.keys[i]!)))) {
      const group = bucket.groups.get(key);
      if (group) group.rows.push(index);
      else bucket.groups.set(key, { rows: [index] });
    }
  }
  for (const bucket of buckets.values())
    if (bucket.rest.length === 1)
      for (const group of bucket.groups.values()) {
        const intervals = group.rows.length > fewRows ? intervalsOf(group.rows, rows, bucket.rest[0]!) : undefined;
        if (intervals) group.intervals = intervals;
      }
  return [...buckets.values()];
}

const keysOf = (cell: KeyCell): readonly string[] => (cell.kind === 'values' ? [...new Set(cell.keys)] : [blankKey]);

/** Every way to take one of each column, as one text. */
export function combinations(columns: readonly (readonly string[])[]): string[] {
  return columns.reduce<string[]>((so, keys) => so.flatMap((s) => keys.map((k) => `${s}${k}\0`)), ['']);
}

/** Ranges in ascending order; undefined where two overlap or one is of another kind. */
function intervalsOf(indexes: readonly number[], rows: readonly TableRow[], column: number): Interval[] | undefined {
  const found: Interval[] = [];
  for (const row of indexes) {
    const cell = rows[row]!.keys[column]!;
    if (cell.kind !== 'range') return undefined;
    const { low, high, lowIncluded, highIncluded } = cell.range;
    if (![low, high].every((v) => v === null || typeof v === 'number')) return undefined;
    found.push({ low, high, lowIncluded, highIncluded, row });
  }
  const bound = (v: Value, open: number): number => (typeof v === 'number' ? v : open);
  found.sort((a, b) => bound(a.low, -Infinity) - bound(b.low, -Infinity));
  for (let i = 1; i < found.length; i++) {
    const [a, b] = [found[i - 1]!, found[i]!];
    const [end, begin] = [bound(a.high, Infinity), bound(b.low, -Infinity)];
    if (end > begin || (end === begin && a.highIncluded && b.lowIncluded)) return undefined;
  }
  return found;
}

function searchInterval(intervals: readonly Interval[], v: Value): number | undefined {
  if (!isNumber(v)) return undefined;
  let [low, high] = [0, intervals.length - 1];
  while (low <= high) {
    const middle = (low + high) >> 1;
    const at = intervals[middle]!;
    const below = isNumber(at.low) ? compareNumbers(v, at.low) : 1;
    if (below < 0 || (below === 0 && !at.lowIncluded)) {
      high = middle - 1;
      continue;
    }
    const above = isNumber(at.high) ? compareNumbers(v, at.high) : -1;
    if (above < 0 || (above === 0 && at.highIncluded)) return at.row;
    low = middle + 1;
  }
  return undefined;
}

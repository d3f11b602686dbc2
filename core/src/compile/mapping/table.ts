/**
 * A mapping table compiled: its frame checked, its rows found by an index, and what is found made an answer by the hit
 * policy (OMG DMN 1.3, 8.2.10).
 */
import { diagnostic, hasErrors, nowhere, type Diagnostic } from '../../diagnostics/catalog.ts';
import type { Hit, LookupTable } from '../../language/expression/related.ts';
import { columnField } from '../../language/expression/shapes.ts';
import type { MappingTable, Rulebook, TableColumn } from '../../document/document.ts';
import { Meter } from '../../values/meter.ts';
import { add, isNumber, type Num } from '../../values/number.ts';
import { equalValues, isBlank, orderValues, type ContextValue, type Value } from '../../values/value.ts';
import type { BoundColumn, KeyCell } from './cells.ts';
import { RowIndex } from './row-index.ts';
import { TableRows, type BoundColumns, type Row } from './rows.ts';
import { inOneGo } from '../../values/steps.ts';

export interface CompiledTable extends LookupTable {
  readonly table: MappingTable;
  readonly keyColumns: readonly BoundColumn[];
  readonly outputColumns: readonly BoundColumn[];
  readonly rowCount: number;
  readonly diagnostics: readonly Diagnostic[];
  /** What the key cells of a row accept. */
  keyCells(row: number): readonly KeyCell[];
  /** What a row gives, by output column. */
  values(row: number): readonly Value[];
  /** A text for each key that a row accepts, the same in every row that does; undefined where they cannot be listed. */
  texts(row: number): readonly string[] | undefined;
  /** The cells of a key column, row by row. */
  cellsOf(keyColumn: number): readonly KeyCell[];
  /** Indexes of the rows that accept the keys, in row order. @throws {Exhausted} where that takes more than a formula may. */
  matching(keys: readonly Value[]): readonly number[];
}

export const compileTable = (table: MappingTable, book: Pick<Rulebook, 'recordTypes'>): CompiledTable =>
  new TableMemory().compile(table, book);

/** Tables as they were compiled, for as long as they are there. */
export class TableMemory {
  /** Tables are immutable: what was compiled of one stands while the fields that it is bound to stay. */
  private readonly known = new WeakMap<MappingTable, Table>();
  /** The table as it was compiled last, by its columns: an edit of its rows reads those that are others. */
  private readonly last = new WeakMap<MappingTable['keys'], Table>();

  compile(table: MappingTable, book: Pick<Rulebook, 'recordTypes'>): CompiledTable {
    return inOneGo(this.inSteps(table, book));
  }

  /** Does the work of compiling a table and of its first lookup in steps, for who has to do other things in between. */
  *prepare(table: MappingTable, book: Pick<Rulebook, 'recordTypes'>): Generator<void, void> {
    const compiled = yield* this.inSteps(table, book);
    yield* compiled.makeReady();
  }

  private *inSteps(table: MappingTable, book: Pick<Rulebook, 'recordTypes'>): Generator<void, Table> {
    const columns = boundColumns(table, book);
    const known = this.known.get(table);
    if (known?.hasColumns(columns)) return known;
    const last = this.last.get(table.keys);
    const rows = yield* TableRows.read(table, columns, last?.hasColumns(columns) ? last.tableRows : undefined);
    const compiled = new Table(table, columns, rows);
    this.known.set(table, compiled);
    this.last.set(table.keys, compiled);
    return compiled;
  }
}

/** A few rows of a table, compiled for one use. */
export function compileRows(
  table: MappingTable,
  rows: readonly Row[],
  book: Pick<Rulebook, 'recordTypes'>,
): CompiledTable {
  const part = { ...table, rows };
  const columns = boundColumns(part, book);
  return new Table(part, columns, inOneGo(TableRows.read(part, columns)));
}

function boundColumns(table: MappingTable, book: Pick<Rulebook, 'recordTypes'>): BoundColumns {
  const bind = (column: TableColumn): BoundColumn => ({ column, field: columnField(column, book) });
  return { keys: table.keys.map(bind), outputs: table.outputs.map(bind) };
}

class Table implements CompiledTable {
  readonly table: MappingTable;
  readonly tableRows: TableRows;
  readonly diagnostics: readonly Diagnostic[];
  private readonly columns: BoundColumns;
  /** null: a table with mistakes finds no rows. */
  private index: RowIndex | null | undefined;
  private readonly prefixColumn: number;
  private contexts: readonly ContextValue[] | undefined;
  private readonly byColumn = new Map<string, ReadonlyMap<string, readonly ContextValue[]> | null>();
  private readonly meter = new Meter();

  constructor(table: MappingTable, columns: BoundColumns, rows: TableRows) {
    this.table = table;
    this.columns = columns;
    this.tableRows = rows;
    this.prefixColumn = table.keys.findIndex((c) => c.match === 'prefix');
    this.diagnostics = [...this.checkFrame(), ...rows.diagnostics()];
  }

  get keyColumns(): readonly BoundColumn[] {
    return this.columns.keys;
  }

  get outputColumns(): readonly BoundColumn[] {
    return this.columns.outputs;
  }

  get rowCount(): number {
    return this.table.rows.length;
  }

  hasColumns({ keys, outputs }: BoundColumns): boolean {
    const same = (own: readonly BoundColumn[], others: readonly BoundColumn[]): boolean =>
      own.length === others.length &&
      own.every((c, i) => c.column === others[i]!.column && c.field === others[i]!.field);
    return same(this.keyColumns, keys) && same(this.outputColumns, outputs);
  }

  keyCells(row: number): readonly KeyCell[] {
    return this.tableRows.keyCells(row);
  }

  values(row: number): readonly Value[] {
    return this.tableRows.values(row);
  }

  texts(row: number): readonly string[] | undefined {
    return this.tableRows.texts(row);
  }

  cellsOf(keyColumn: number): readonly KeyCell[] {
    return this.table.rows.map((_, row) => this.keyCells(row)[keyColumn]!);
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

  /** Made when a row is first looked for. */
  *makeReady(): Generator<void, RowIndex | null> {
    if (this.index !== undefined) return this.index;
    this.index = hasErrors(this.diagnostics) ? null : yield* RowIndex.of(this.tableRows, this.columns);
    return this.index;
  }

  matching(keys: readonly Value[]): readonly number[] {
    this.meter.reset();
    if (this.prefixColumn < 0) return this.lookUp(keys);
    const text = keys[this.prefixColumn];
    if (typeof text !== 'string') return this.lookUp(keys);
    // The longest beginning that some row has decides; rows for any value come last.
    const all = [...text];
    for (let n = all.length; n > 0; n--) {
      const tried = keys.map((k, i) => (i === this.prefixColumn ? all.slice(0, n).join('') : k));
      const found = this.lookUp(tried).filter((r) => !this.takesAnyBeginning(r));
      if (found.length > 0) return found;
    }
    return this.lookUp(keys).filter((r) => this.takesAnyBeginning(r));
  }

  private takesAnyBeginning(row: number): boolean {
    return this.keyCells(row)[this.prefixColumn]!.kind === 'any';
  }

  private lookUp(keys: readonly Value[]): readonly number[] {
    return inOneGo(this.makeReady())?.matching(keys, this.meter) ?? [];
  }

  find(keys: readonly Value[]): Hit {
    const rows = this.matching(keys);
    if (rows.length === 0) {
      const none = this.table.hitPolicy === 'collect' && this.table.aggregation === 'count';
      return none ? { found: 'one', rows, values: [0] } : { found: 'none' };
    }
    const one = (row: number): Hit => ({ found: 'one', rows: [row], values: this.values(row) });
    switch (this.table.hitPolicy) {
      case 'first':
        return one(rows[0]!);
      case 'any': {
        const first = this.values(rows[0]!);
        const agree = rows.every((r) => this.values(r).every((v, i) => sameOutput(v, first[i]!)));
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
    const given = rows.map((r) => this.values(r));
    const values = this.outputColumns.map((_, i) => given.flatMap((row) => row[i] ?? []));
    return { found: 'one', rows, values };
  }

  /** DMN 1.3, 8.2.10: sum, min and max of numbers (min and max of whatever has an order), count of the values that are there. */
  private aggregate(rows: readonly number[]): Hit {
    const given = rows.map((r) => this.values(r));
    const values = this.outputColumns.map((_, i): Value => {
      const input = given.map((row) => row[i]!).filter((v) => !isBlank(v));
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
    const ranked = rows.map((row) => ({ row, ranks: this.values(row).map((v, i) => ranks[i]!(v)) }));
    ranked.sort((a, b) => {
      for (const [i, rank] of a.ranks.entries()) if (rank !== b.ranks[i]!) return rank - b.ranks[i]!;
      return a.row - b.row;
    });
    return ranked.map((r) => r.row);
  }

  /** The rows as formulas see them. */
  get rows(): readonly ContextValue[] {
    return (this.contexts ??= this.table.rows.map((_, row) => {
      const [keys, values] = [this.keyCells(row), this.values(row)];
      return new Map<string, Value>([
        ...this.keyColumns.map(({ column }, i) => [column.name, keyValue(keys[i]!)] as const),
        ...this.outputColumns.map(({ column }, i) => [column.name, values[i]!] as const),
      ]);
    }));
  }

  equal(column: string, v: Value): readonly ContextValue[] | undefined {
    let index = this.byColumn.get(column);
    if (index === undefined) this.byColumn.set(column, (index = this.indexColumn(column)));
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

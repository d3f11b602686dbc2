/**
 * One mapping table on show: which rows are in sight and chosen, what is wrong with its cells, how it meets the samples,
 * and every edit of it. Cells are spoken of by line (place in the view) and by column.
 */
import type { Finding } from '@rigid-rule/core/analysis';
import { compileTable, coverageOf, keySourceOf } from '@rigid-rule/core/compile';
import {
  canonicalJson,
  sameJson,
  pointer,
  type Cell,
  type MappingTable,
  type Operation,
  type TableColumn,
} from '@rigid-rule/core/document';
import {
  cellToSheet,
  columnOfHeading,
  planImport,
  readSheetCell,
  sheetColumn,
  type ImportPlan,
  type RestOfRows,
} from '@rigid-rule/core/formats';
import type { Draft } from '../draft/draft.svelte.ts';
import type { SampleSet } from '../samples/samples.svelte.ts';
import { columnsFrom, isUntouched } from './new-table.ts';
import { rowOperations } from './row-operations.ts';
import type { Lines } from './sheet-files.ts';

export interface Place {
  readonly line: number;
  readonly column: number;
}

/** Lines that were pasted or read from a file, tried out but not taken yet. */
export interface Preview {
  readonly from: string;
  readonly lines: Lines;
  readonly rest: RestOfRows;
  /** Where each line stands in the file, from 1; absent: one after the other. */
  readonly numbers?: readonly number[];
  /** Columns of an untouched table, made of the first line: nothing of the table's own until the lines are taken. */
  readonly columns?: readonly ColumnPlan[];
  /** The others were taken: what is left are the lines that were refused. */
  readonly leftOver?: true;
}

export interface ColumnPlan {
  readonly column: TableColumn;
  readonly isKey: boolean;
}

type Row = MappingTable['rows'][number];
/** More cells than this are written row by row. */
const manyChanges = 200;

export class TableState {
  private readonly draft: Draft;
  private readonly samples: SampleSet;
  readonly key: string;
  filter = $state('');
  sort = $state<{ readonly column: string; readonly descending: boolean }>();
  /** Where the choice of cells began, and where it ends. */
  anchor = $state.raw<Place>({ line: 0, column: 0 });
  head = $state.raw<Place>({ line: 0, column: 0 });
  preview = $state.raw<Preview>();
  /** Why what was pasted could not be read. */
  problems = $state.raw<readonly string[]>([]);

  constructor(draft: Draft, samples: SampleSet, key: string) {
    this.draft = draft;
    this.samples = samples;
    this.key = key;
  }

  readonly table: MappingTable = $derived.by(
    () => this.draft.rulebook.tables?.find((t) => t.key === this.key) ?? this.draft.rulebook.tables![0]!,
  );
  readonly columns: readonly TableColumn[] = $derived([...this.table.keys, ...this.table.outputs]);
  readonly compiled = $derived.by(() => compileTable(this.table, this.draft.rulebook));
  readonly findings: readonly Finding[] = $derived.by(() =>
    this.draft.findings.filter((f) => f.part.kind === 'table' && f.part.key === this.table.key),
  );

  /** What is wrong with single cells, by row and column key. */
  readonly wrong: ReadonlyMap<string, string> = $derived.by(
    () =>
      new Map(
        this.compiled.diagnostics
          .filter((d) => d.path?.startsWith('/rows/'))
          .map((d) => [d.path!.slice('/rows/'.length), d.message]),
      ),
  );
  /** Rows that a finding names, such as a key that stands twice. */
  readonly named: ReadonlyMap<number, Finding> = $derived.by(() => {
    const found = new Map<number, Finding>();
    for (const f of this.findings) {
      const row = /^\/rows\/(\d+)/.exec(f.path ?? '')?.[1];
      if (row !== undefined && f.kind !== 'does-not-compile') found.set(Number(row), f);
    }
    // A key that stands twice marks both of its rows.
    const keyOf = (row: Row) => canonicalJson(this.table.keys.map((c) => row[c.key] ?? null));
    const twice = new Map(
      [...found].filter(([, f]) => f.kind === 'table-key-twice').map(([i, f]) => [keyOf(this.table.rows[i] ?? {}), f]),
    );
    if (twice.size > 0)
      this.table.rows.forEach((row, i) => {
        const finding = twice.get(keyOf(row));
        if (finding && !found.has(i)) found.set(i, finding);
      });
    return found;
  });

  readonly source = $derived.by(() => keySourceOf(this.table, this.draft.rulebook));
  readonly coverage = $derived.by(() => {
    const { source } = this;
    if (!source || this.compiled.diagnostics.length > 0) return undefined;
    const held = this.samples.values(source.recordType.key, source.fields) ?? [];
    return held.length > 0 ? coverageOf(this.table, source, held, this.draft.rulebook) : undefined;
  });

  /** Indexes of the rows in sight, in the order in which they are shown. */
  readonly view: readonly number[] = $derived.by(() => {
    const { rows } = this.table;
    const text = this.filter.trim().toLowerCase();
    const indexes = rows.flatMap((row, i) =>
      text === '' || this.columns.some((c) => this.show(row, c).toLowerCase().includes(text)) ? [i] : [],
    );
    const column = this.columns.find((c) => c.key === this.sort?.column);
    if (!column) return this.sort?.column === 'seen' ? this.bySeen(indexes) : indexes;
    const sign = this.sort!.descending ? -1 : 1;
    const keyed = indexes.map((i) => ({
      i,
      cell: rows[i]![column.key],
      text: this.show(rows[i]!, column),
    }));
    keyed.sort((a, b) =>
      typeof a.cell === 'number' && typeof b.cell === 'number'
        ? (a.cell - b.cell) * sign
        : (a.text < b.text ? -1 : a.text > b.text ? 1 : a.i - b.i) * sign,
    );
    return keyed.map((k) => k.i);
  });

  private bySeen(indexes: readonly number[]): readonly number[] {
    const hits = this.coverage?.hits ?? [];
    const sign = this.sort!.descending ? -1 : 1;
    return [...indexes].sort((a, b) => ((hits[a] ?? 0) - (hits[b] ?? 0)) * sign || a - b);
  }

  /** The table that what is tried out would go into: with the columns of the first line where it has none of its own. */
  readonly planned: MappingTable = $derived.by(() => {
    const columns = this.preview?.columns;
    if (!columns) return this.table;
    const of = (isKey: boolean) => columns.filter((c) => c.isKey === isKey).map((c) => c.column);
    return { ...this.table, keys: of(true), outputs: of(false) };
  });

  readonly plan: ImportPlan | undefined = $derived.by(
    () =>
      this.preview &&
      planImport(this.planned, this.draft.rulebook, this.preview.lines, this.preview.rest, this.preview.numbers),
  );

  private readonly sheets = $derived(
    new Map(this.columns.map((c) => [c.key, sheetColumn(c, this.table, this.draft.rulebook)])),
  );
  private show(row: Row, column: TableColumn): string {
    const sheet = this.sheets.get(column.key);
    return sheet ? cellToSheet(row[column.key], sheet) : '';
  }

  text(row: number, column: TableColumn): string {
    const found = this.table.rows[row];
    return found ? this.show(found, column) : '';
  }
  cell(row: number, column: TableColumn): Cell {
    return this.table.rows[row]?.[column.key] ?? null;
  }

  /** First and last line and column of the chosen cells. */
  readonly chosen = $derived.by(() => ({
    top: Math.min(this.anchor.line, this.head.line),
    bottom: Math.min(Math.max(this.anchor.line, this.head.line), this.view.length - 1),
    left: Math.min(this.anchor.column, this.head.column),
    right: Math.max(this.anchor.column, this.head.column),
  }));

  choose(place: Place, extend = false): void {
    const line = Math.max(0, Math.min(place.line, this.view.length - 1));
    const column = Math.max(0, Math.min(place.column, this.columns.length - 1));
    this.head = { line, column };
    if (!extend) this.anchor = this.head;
  }

  private edit(operations: readonly Operation[], label: string, group?: string): void {
    this.draft.edit({ kind: 'table', key: this.table.key }, operations, label, group);
  }
  set(member: string, value: unknown, label: string, group?: string): void {
    this.edit([{ op: 'add', path: pointer(member), value }], label, group);
  }
  private setRows(rows: readonly Row[], label: string): void {
    this.edit(rowOperations(this.table.rows, rows), label);
  }

  /** What was typed into cells; what a column cannot read stays as typed, marked as wrong. */
  write(
    cells: readonly { readonly row: number; readonly column: number; readonly text: string }[],
    label: string,
  ): void {
    const changes = cells.flatMap(({ row, column: at, text }) => {
      const column = this.columns[at];
      if (!column || !this.table.rows[row]) return [];
      const read = readSheetCell(text, column, this.table, this.draft.rulebook);
      const cell = 'cell' in read ? read.cell : text.trim();
      return sameJson(cell, this.cell(row, column)) ? [] : [{ row, key: column.key, cell }];
    });
    if (changes.length > manyChanges) {
      const rows = [...this.table.rows];
      for (const { row, key, cell } of changes) rows[row] = withCell(rows[row]!, key, cell);
      return this.setRows(rows, label);
    }
    this.edit(
      changes.flatMap(({ row, key, cell }): Operation[] => {
        const path = pointer('rows', row, key);
        if (cell !== null) return [{ op: 'add', path, value: cell }];
        return this.table.rows[row]![key] === undefined ? [] : [{ op: 'remove', path }];
      }),
      label,
    );
  }

  private eachChosen<T>(give: (line: number, column: number) => T): T[] {
    const { top, bottom, left, right } = this.chosen;
    const all: T[] = [];
    for (let line = top; line <= bottom; line++) for (let c = left; c <= right; c++) all.push(give(line, c));
    return all;
  }

  clearChosen(): void {
    this.write(
      this.eachChosen((line, column) => ({ row: this.view[line]!, column, text: '' })),
      'clear cells',
    );
  }

  /** The first chosen line into all chosen ones below; with one line chosen, from the line above. */
  fillDown(): void {
    const { top, bottom } = this.chosen;
    const from = top === bottom ? top - 1 : top;
    if (from < 0) return;
    this.write(
      this.eachChosen((line, column) => ({
        row: this.view[line]!,
        column,
        text: this.text(this.view[from]!, this.columns[column]!),
      })),
      'fill down',
    );
  }

  /** Continues the chosen cells to a line below, over and over. */
  fillTo(bottom: number): void {
    const { top, bottom: last, left, right } = this.chosen;
    const cells = [];
    for (let line = last + 1; line <= Math.min(bottom, this.view.length - 1); line++)
      for (let column = left; column <= right; column++) {
        const from = top + ((line - top) % (last - top + 1));
        cells.push({ row: this.view[line]!, column, text: this.text(this.view[from]!, this.columns[column]!) });
      }
    this.write(cells, 'fill cells');
    this.head = { line: Math.max(bottom, last), column: right };
    this.anchor = { line: top, column: left };
  }

  /** A row beneath the chosen ones. */
  addRow(): void {
    const at = this.filter || this.sort ? this.table.rows.length : (this.view[this.chosen.bottom] ?? -1) + 1;
    this.filter = '';
    this.sort = undefined;
    this.edit([{ op: 'add', path: pointer('rows', at), value: {} }], 'add a row');
    this.choose({ line: at, column: 0 });
  }

  removeRows(): void {
    const { top, bottom } = this.chosen;
    const gone = new Set(this.view.slice(top, bottom + 1));
    if (gone.size === 0) return;
    this.setRows(
      this.table.rows.filter((_, i) => !gone.has(i)),
      gone.size === 1 ? 'take a row out' : `take ${gone.size} rows out`,
    );
    this.choose({ line: top, column: this.head.column });
  }

  copied(): string {
    const { top, bottom, left, right } = this.chosen;
    const quoted = (t: string) => (/[\t\n"]/.test(t) ? `"${t.replaceAll('"', '""')}"` : t);
    return this.view
      .slice(top, bottom + 1)
      .map((row) =>
        this.columns
          .slice(left, right + 1)
          .map((c) => quoted(this.text(row, c)))
          .join('\t'),
      )
      .join('\n');
  }

  /**
   * What was pasted: lines with keys are tried out first, and say what they would add and change; a block of values goes
   * where the choice is, at once; into an untouched table the first line says the columns.
   */
  paste(lines: Lines): void {
    const [first] = lines;
    if (!first) return;
    if (isUntouched(this.table) && lines.length > 1 && first.length > 1) return this.begin(lines);
    const headed = first.every((h) => columnOfHeading(this.table, h));
    const { left } = this.chosen;
    if (headed && lines.length > 1) this.tryOut('a spreadsheet', lines, 'keep');
    else if (left === 0 && first.length > this.table.keys.length)
      this.tryOut('a spreadsheet', [this.columns.slice(0, first.length).map((c) => c.name), ...lines], 'keep');
    else this.pasteInPlace(lines);
  }

  private pasteInPlace(lines: Lines): void {
    const { top, bottom, left, right } = this.chosen;
    // One value goes into every chosen cell.
    const one = lines.length === 1 && lines[0]!.length === 1;
    const missing = one ? 0 : top + lines.length - this.view.length;
    const cells = one
      ? this.eachChosen((line, column) => ({ row: this.view[line]!, column, text: lines[0]![0]! }))
      : lines.flatMap((line, i) =>
          line.map((text, j) => ({
            row: this.view[top + i] ?? this.table.rows.length + top + i,
            column: left + j,
            text,
          })),
        );
    if (missing > 0) return this.tryOut('a spreadsheet', [this.headings(left, lines[0]!.length), ...lines], 'keep');
    this.write(cells, 'paste cells');
    this.anchor = { line: top, column: left };
    this.head = one
      ? { line: bottom, column: right }
      : { line: top + lines.length - 1, column: Math.min(left + lines[0]!.length, this.columns.length) - 1 };
  }

  private headings(left: number, width: number): string[] {
    return this.columns.slice(left, left + width).map((c) => c.name);
  }

  /** An untouched table takes its columns and rows from what was pasted; which of them are keys can be changed first. */
  private begin(lines: Lines): void {
    const columns = columnsFrom(lines[0]!, this.draft.rulebook.recordTypes).map((column, i): ColumnPlan => ({
      column,
      isKey: i === 0,
    }));
    this.problems = [];
    this.preview = {
      from: 'a spreadsheet',
      lines: [columns.map((c) => c.column.name), ...lines.slice(1)],
      rest: 'keep',
      columns,
    };
  }

  /** A column of what is tried out becomes a key or an output; there is always at least one of each. */
  setPlannedKey(index: number, isKey: boolean): void {
    const { preview } = this;
    const columns = preview?.columns?.map((c, i) => (i === index ? { ...c, isKey } : c));
    if (!preview || !columns || new Set(columns.map((c) => c.isKey)).size < 2) return;
    this.preview = { ...preview, columns };
  }

  tryOut(from: string, lines: Lines, rest: RestOfRows, numbers?: readonly number[]): void {
    this.problems = [];
    this.preview = { from, lines, rest, ...(numbers ? { numbers } : {}) };
  }

  /** A likely option in the place of a misspelt one, in what is tried out. */
  correct(line: number, column: string, from: string, to: string): void {
    const { preview } = this;
    if (!preview) return;
    const at = preview.lines[0]!.findIndex((h) => columnOfHeading(this.planned, h)?.key === column);
    const lines = preview.lines.map((cells, i) =>
      (preview.numbers?.[i] ?? i + 1) === line ? cells.map((c, j) => (j === at ? c.replace(from, to) : c)) : cells,
    );
    this.preview = { ...preview, lines };
  }

  /** Takes what was tried out; lines that are refused are left out, and stay in sight with the reasons. */
  take(): void {
    const { plan, preview, planned } = this;
    if (!plan || !preview) return;
    const columns: Operation[] = preview.columns
      ? [
          { op: 'replace', path: '/keys', value: planned.keys },
          { op: 'replace', path: '/outputs', value: planned.outputs },
        ]
      : [];
    this.edit([...columns, ...rowOperations(this.table.rows, plan.table.rows)], `take lines from ${preview.from}`);
    const refused = new Set(plan.plans.flatMap((p) => (p.what === 'refused' && p.line !== undefined ? [p.line] : [])));
    const numberOf = (i: number): number => preview.numbers?.[i] ?? i + 1;
    const left = preview.lines.flatMap((line, i) =>
      i === 0 || refused.has(numberOf(i)) ? [{ line, at: numberOf(i) }] : [],
    );
    this.preview =
      left.length > 1
        ? {
            from: preview.from,
            lines: left.map((l) => l.line),
            numbers: left.map((l) => l.at),
            rest: 'keep',
            leftOver: true,
          }
        : undefined;
  }

  /** A row for each key that samples hold and the table lacks, or for one of them. */
  fillGaps(gaps: readonly { readonly cells: Row }[]): void {
    this.edit(
      gaps.map(({ cells }) => ({ op: 'add', path: '/rows/-', value: cells })),
      gaps.length === 1 ? 'add a row that was lacking' : `add ${gaps.length} rows that were lacking`,
    );
    this.filter = '';
    this.sort = undefined;
    this.choose({ line: this.table.rows.length - 1, column: this.table.keys.length });
  }
}

function withCell(row: Row, key: string, cell: Cell): Row {
  const { [key]: _, ...others } = row;
  return cell === null ? others : { ...others, [key]: cell };
}

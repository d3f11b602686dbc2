/**
 * One mapping table on show: which rows are in sight and chosen, what is wrong with its cells, how it meets the samples,
 * and every edit of it. What these are is worked out in plain modules; here they follow the draft and what people do.
 */
import type { Finding } from '@rigid-rule/core/analysis';
import { coverageOf, keySourceOf } from '@rigid-rule/core/compile';
import { pointer, type Cell, type MappingTable, type Operation, type TableColumn } from '@rigid-rule/core/document';
import { planImport, type ImportPlan, type RestOfRows } from '@rigid-rule/core/formats';
import { ownForm, ownWriting } from '$lib/organisation.svelte.ts';
import type { Draft } from '../draft/draft.svelte.ts';
import type { SampleSet } from '../samples/samples.svelte.ts';
import {
  blockOf,
  choiceOf,
  chosenTo,
  firstCell,
  wholeSheet,
  type Block,
  type Choice,
  type Place,
} from './cell-choice.ts';
import { copied, filledDown, filledTo, filledWith, writing, type CellText, type Sheet } from './cell-edits.ts';
import { namedRows, wrongCells } from './row-marks.ts';
import { rowOperations } from './row-operations.ts';
import type { Lines, SheetLines } from './sheet-files.ts';
import { rowsInSight, SheetTexts, type Row, type Sorting } from './sheet-view.ts';
import {
  areHeadings,
  bothWays,
  leftOver,
  neutralLines,
  pasted,
  plannedTable,
  takingOver,
  withCorrection,
  withPlannedKey,
  type Preview,
} from './try-out.ts';
import { writtenAs, type Written } from '$lib/written-lines.ts';

export class TableState {
  filter = $state('');
  sort = $state.raw<Sorting>();
  private choice: Choice = $state.raw(firstCell);
  preview = $state.raw<Preview>();
  /** Why what was pasted could not be read. */
  problems = $state.raw<readonly string[]>([]);

  constructor(
    private readonly draft: Draft,
    private readonly samples: SampleSet,
    readonly key: string,
  ) {}

  readonly table: MappingTable = $derived.by(
    () => this.draft.rulebook.tables?.find((t) => t.key === this.key) ?? this.draft.rulebook.tables![0]!,
  );
  private readonly texts = $derived.by(() => new SheetTexts(this.table, this.draft.rulebook, ownForm()));
  readonly columns: readonly TableColumn[] = $derived(this.texts.columns);
  readonly compiled = $derived.by(() => this.draft.program.tables.get(this.table.key)!);
  readonly findings: readonly Finding[] = $derived.by(() =>
    this.draft.findings.filter((f) => f.part.kind === 'table' && f.part.key === this.table.key),
  );
  readonly wrong: ReadonlyMap<string, string> = $derived(wrongCells(this.compiled.diagnostics));
  readonly named: ReadonlyMap<number, Finding> = $derived(namedRows(this.findings, this.table));

  readonly source = $derived.by(() => keySourceOf(this.table, this.draft.rulebook));
  /** What the samples hold of the keys; undefined until it is there, and where no rule asks the table. */
  private readonly held = $derived.by(() => {
    const { source } = this;
    return source && this.compiled.diagnostics.length === 0
      ? this.samples.values(source.recordType.key, source.fields)
      : [];
  });
  readonly coverage = $derived.by(() =>
    this.source && this.held && this.held.length > 0 ? coverageOf(this.compiled, this.source, this.held) : undefined,
  );
  /** It is on its way: what is shown of it has its place by then. */
  readonly coverageComes: boolean = $derived.by(() => this.held === undefined && this.samples.problem === undefined);

  /** Indexes of the rows in sight, in the order in which they are shown. */
  readonly view: readonly number[] = $derived(
    rowsInSight(
      this.table.rows,
      this.texts,
      this.filter,
      this.sort,
      this.sort?.column === 'seen' ? this.coverage?.hits : [],
    ),
  );
  private readonly sheet: Sheet = $derived({ rows: this.table.rows, texts: this.texts, view: this.view });
  private readonly size = $derived({ lines: this.view.length, columns: this.columns.length });
  readonly chosen: Block = $derived(blockOf(this.choice, this.size));
  get head(): Place {
    return this.choice.head;
  }

  readonly planned: MappingTable = $derived(plannedTable(this.table, this.preview));
  /** How the file that is tried out is written, as far as that makes a difference. */
  readonly written: Written | undefined = $derived.by(
    () => this.preview?.isText && (this.preview.written ?? writtenAs(bothWays(this.preview, this.texts))),
  );
  readonly plan: ImportPlan | undefined = $derived.by(() => {
    const { preview } = this;
    if (!preview) return undefined;
    const lines = neutralLines(preview, this.written ?? 'neutral', this.texts);
    return planImport(this.planned, this.draft.rulebook, lines, preview.rest, preview.numbers);
  });

  text(row: number, column: TableColumn): string {
    return this.shown(this.table.rows[row], column);
  }
  shown(row: Row | undefined, column: TableColumn): string {
    return this.texts.show(row, column);
  }
  cell(row: number, column: TableColumn): Cell {
    return this.table.rows[row]?.[column.key] ?? null;
  }

  choose(place: Place, extend = false): void {
    this.choice = chosenTo(this.choice, place, extend, this.size);
  }
  chooseAll(): void {
    this.choice = wholeSheet(this.size);
  }

  private edit(operations: readonly Operation[], label: string, group?: string): void {
    this.draft.edit({ kind: 'table', key: this.table.key }, operations, label, group);
  }
  set(member: string, value: unknown, label: string, group?: string): void {
    this.edit([{ op: 'add', path: pointer(member), value }], label, group);
  }
  write(cells: readonly CellText[], label: string): void {
    this.edit(writing(this.sheet, cells), label);
  }

  clearChosen(): void {
    this.write(filledWith(this.sheet, this.chosen, ''), 'clear cells');
  }
  fillDown(): void {
    this.write(filledDown(this.sheet, this.chosen), 'fill down');
  }
  /** Continues the chosen cells to a line below, over and over. */
  fillTo(line: number): void {
    const block = this.chosen;
    this.write(filledTo(this.sheet, block, line), 'fill cells');
    this.choice = choiceOf({ ...block, bottom: Math.max(line, block.bottom) });
  }
  copied(): string {
    return copied(this.sheet, this.chosen);
  }

  /** All rows in sight, as they stand. */
  private showAll(): void {
    this.filter = '';
    this.sort = undefined;
  }

  /** By a column, or by `seen`: upwards, then downwards, then as the rows stand. */
  sortBy(column: string): void {
    const { sort } = this;
    if (sort?.column !== column) this.sort = { column, descending: false };
    else this.sort = sort.descending ? undefined : { column, descending: true };
  }

  /** A row beneath the chosen ones. */
  addRow(): void {
    const at = this.filter || this.sort ? this.table.rows.length : (this.view[this.chosen.bottom] ?? -1) + 1;
    this.showAll();
    this.edit([{ op: 'add', path: pointer('rows', at), value: {} }], 'add a row');
    this.choose({ line: at, column: 0 });
  }

  removeRows(): void {
    const { top, bottom } = this.chosen;
    const gone = new Set(this.view.slice(top, bottom + 1));
    if (gone.size === 0) return;
    const left = this.table.rows.filter((_, i) => !gone.has(i));
    this.edit(
      rowOperations(this.table.rows, left),
      gone.size === 1 ? 'take a row out' : `take ${ownWriting(gone.size)} rows out`,
    );
    this.choose({ line: top, column: this.head.column });
  }

  areHeadings(line: readonly string[]): boolean {
    return areHeadings(line, this.table);
  }

  paste(lines: Lines): void {
    const found = pasted(lines, this.table, this.sheet, this.chosen, this.draft.rulebook.recordTypes);
    if (!found) return;
    if ('preview' in found) return this.show(found.preview);
    this.write(found.cells, 'paste cells');
    this.choice = choiceOf(found.block);
  }

  private show(preview: Preview): void {
    this.problems = [];
    this.preview = preview;
  }
  tryOut(from: string, read: SheetLines, rest: RestOfRows): void {
    this.show({ ...read, from, rest });
  }
  setPlannedKey(index: number, isKey: boolean): void {
    this.preview &&= withPlannedKey(this.preview, index, isKey);
  }
  correct(line: number, column: string, from: string, to: string): void {
    this.preview &&= withCorrection(this.preview, this.planned, { line, column, from, to });
  }

  /** Takes what was tried out; lines that are refused are left out, and stay in sight with the reasons. */
  take(): void {
    const { plan, preview } = this;
    if (!plan || !preview) return;
    this.edit(takingOver(this.table, preview, plan), `take lines from ${preview.from}`);
    this.preview = leftOver(preview, plan);
  }

  /** A row for each key that samples hold and the table lacks, or for one of them. */
  fillGaps(gaps: readonly { readonly cells: Row }[]): void {
    this.edit(
      gaps.map(({ cells }) => ({ op: 'add', path: '/rows/-', value: cells })),
      gaps.length === 1 ? 'add a row that was lacking' : `add ${ownWriting(gaps.length)} rows that were lacking`,
    );
    this.showAll();
    this.choose({ line: this.table.rows.length - 1, column: this.table.keys.length });
  }
}

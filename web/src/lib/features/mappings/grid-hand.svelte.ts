/** What keys, the pointer and the clipboard do on the grid of a mapping table. */
import { beginsComposition, commandOf, typedBy } from '$lib/ui/pressed-key.ts';
import { flushSync } from 'svelte';
import { readClipboard } from './sheet-files.ts';
import type { TableState } from './table.svelte.ts';

interface Surroundings {
  readonly grid: () => TableState;
  readonly readonly: () => boolean;
  /** Brings a line into sight. */
  readonly scrollTo: (line: number) => void;
  /** Lines that are in sight at once. */
  readonly pageLines: () => number;
  /** Gives the focus back to the grid. */
  readonly focus: () => void;
}

export class GridHand {
  /** The cell that is typed over, and what is in it meanwhile. */
  editing = $state<{ line: number; column: number; text: string }>();
  /** The line down to which what is chosen is being dragged. */
  private filling = $state<number>();
  private dragging = false;
  private readonly around: Surroundings;

  constructor(around: Surroundings) {
    this.around = around;
  }

  private get grid(): TableState {
    return this.around.grid();
  }

  private get mayWrite(): boolean {
    return !this.around.readonly();
  }

  get isFilling(): boolean {
    return this.filling !== undefined;
  }

  isIn(line: number, column: number): boolean {
    const { top, bottom, left, right } = this.grid.chosen;
    return line >= top && line <= bottom && column >= left && column <= right;
  }

  /** Whether what is dragged comes to be here. */
  isFilled(line: number, column: number): boolean {
    const { top, bottom } = this.grid.chosen;
    return this.filling !== undefined && line > bottom && line <= this.filling && this.isIn(top, column);
  }

  /** Types over the chosen cell. @param text What it begins with; absent: what is there. */
  begin(text?: string): void {
    const { grid } = this;
    if (!this.mayWrite || grid.view.length === 0) return;
    const { line, column } = grid.head;
    grid.choose({ line, column });
    this.editing = { line, column, text: text ?? grid.text(grid.view[line]!, grid.columns[column]!) };
  }

  commit(): void {
    const { grid, editing } = this;
    this.editing = undefined;
    if (!editing) return;
    const { line, column, text } = editing;
    grid.write([{ row: grid.view[line]!, column, text }], 'type into a cell');
  }

  press(e: KeyboardEvent): void {
    if (this.editing) return;
    const { grid, mayWrite } = this;
    const key = commandOf(e).toLowerCase();
    const typed = typedBy(e);
    const act = this.acts[e.key];
    if (beginsComposition(e)) {
      // Composed in the input, which has to have the focus before the key is done.
      flushSync(() => this.begin(''));
      return;
    }
    if (typed !== undefined) this.begin(typed);
    else if (e.ctrlKey || e.metaKey) {
      if (key === 'd' && mayWrite) grid.fillDown();
      else if (key === 'a') grid.chooseAll();
      else if ((key === 'home' || key === 'end') && act) act(e);
      else return;
    } else if (e.altKey && key === 'insert' && mayWrite) grid.addRow();
    else if (e.altKey && key === 'delete' && mayWrite) grid.removeRows();
    else if (act) act(e);
    else return;
    e.preventDefault();
    e.stopPropagation();
  }

  /** Keys within the cell that is typed over. */
  inEditor(e: KeyboardEvent): void {
    e.stopPropagation();
    if (e.key === 'Escape') {
      this.editing = undefined;
      this.around.focus();
    } else if (e.key === 'Enter') this.leave(e.shiftKey ? -1 : 1, 0);
    else if (e.key === 'Tab') this.leave(0, e.shiftKey ? -1 : 1);
    else return;
    e.preventDefault();
  }

  paste(e: ClipboardEvent): void {
    if (!this.mayWrite) return;
    e.preventDefault();
    const read = readClipboard(e.clipboardData?.getData('text/plain') ?? '', (line) => this.grid.areHeadings(line));
    if ('problems' in read) this.grid.problems = read.problems;
    else this.grid.paste(read.lines);
  }

  copy(e: ClipboardEvent, cut = false): void {
    e.preventDefault();
    e.clipboardData?.setData('text/plain', this.grid.copied());
    if (cut && this.mayWrite) this.grid.clearChosen();
  }

  point(e: PointerEvent): void {
    const cell = cellOf(e);
    const on = e.target as HTMLElement;
    if (e.button !== 0 || !cell || on.matches('input')) return;
    if (on.matches('.handle')) {
      e.preventDefault();
      this.filling = this.grid.chosen.bottom;
      return;
    }
    if (this.editing) this.commit();
    this.grid.choose(cell, e.shiftKey);
    this.dragging = true;
  }

  over(e: PointerEvent): void {
    const cell = cellOf(e);
    if (!cell) return;
    if (this.filling !== undefined) this.filling = cell.line;
    else if (this.dragging) this.grid.choose(cell, true);
  }

  release(): void {
    if (this.filling !== undefined) this.grid.fillTo(this.filling);
    this.filling = undefined;
    this.dragging = false;
  }

  private readonly acts: Readonly<Record<string, (e: KeyboardEvent) => void>> = {
    ArrowDown: (e) => this.go(1, 0, e.shiftKey),
    ArrowUp: (e) => this.go(-1, 0, e.shiftKey),
    ArrowRight: (e) => this.go(0, 1, e.shiftKey),
    ArrowLeft: (e) => this.go(0, -1, e.shiftKey),
    PageDown: (e) => this.go(this.around.pageLines(), 0, e.shiftKey),
    PageUp: (e) => this.go(-this.around.pageLines(), 0, e.shiftKey),
    Home: (e) => this.goTo(e.ctrlKey ? 0 : this.grid.head.line, 0, e.shiftKey),
    End: (e) =>
      this.goTo(e.ctrlKey ? this.grid.view.length - 1 : this.grid.head.line, this.grid.columns.length - 1, e.shiftKey),
    Enter: () => this.begin(),
    F2: () => this.begin(),
    Delete: () => this.mayWrite && this.grid.clearChosen(),
    Backspace: () => this.mayWrite && this.grid.clearChosen(),
  };

  private goTo(line: number, column: number, extend = false): void {
    this.grid.choose({ line, column }, extend);
    this.around.scrollTo(this.grid.head.line);
  }

  private go(down: number, right: number, extend = false): void {
    const { line, column } = this.grid.head;
    this.goTo(line + down, column + right, extend);
  }

  /** From the cell that is typed over to another; below the last line there is a new one. */
  private leave(down: number, right: number): void {
    const { line, column } = this.grid.head;
    this.commit();
    this.around.focus();
    if (down > 0 && line === this.grid.view.length - 1) {
      this.grid.addRow();
      this.around.scrollTo(this.grid.head.line);
    } else this.goTo(line + down, column + right);
  }
}

/** The cell that an event happened on. */
function cellOf(e: Event): { line: number; column: number } | undefined {
  const { line, column } = (e.target as HTMLElement).closest<HTMLElement>('[data-line]')?.dataset ?? {};
  return line === undefined ? undefined : { line: Number(line), column: Number(column) };
}

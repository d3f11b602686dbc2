/** The chosen cells of a sheet: a block between where the choice began and where it ends. */

/** A cell by line (place in the view) and by column. */
export interface Place {
  readonly line: number;
  readonly column: number;
}

export interface Choice {
  /** Where it began. */
  readonly anchor: Place;
  readonly head: Place;
}

/** First and last line and column; both ends belong to it. */
export interface Block {
  readonly top: number;
  readonly bottom: number;
  readonly left: number;
  readonly right: number;
}

export interface Size {
  readonly lines: number;
  readonly columns: number;
}

const start: Place = { line: 0, column: 0 };
export const firstCell: Choice = { anchor: start, head: start };

const within = (n: number, count: number): number => Math.max(0, Math.min(n, count - 1));

/** The choice moved to a place, or up to it; never out of the sheet. */
export function chosenTo(choice: Choice, { line, column }: Place, extend: boolean, size: Size): Choice {
  const head = { line: within(line, size.lines), column: within(column, size.columns) };
  return { anchor: extend ? choice.anchor : head, head };
}

export const wholeSheet = ({ lines, columns }: Size): Choice => ({
  anchor: start,
  head: { line: lines - 1, column: columns - 1 },
});

export const choiceOf = ({ top, bottom, left, right }: Block): Choice => ({
  anchor: { line: top, column: left },
  head: { line: bottom, column: right },
});

/** The block of a choice, of which lines may have gone out of sight since. */
export const blockOf = ({ anchor, head }: Choice, { lines }: Size): Block => ({
  top: Math.min(anchor.line, head.line),
  bottom: Math.min(Math.max(anchor.line, head.line), lines - 1),
  left: Math.min(anchor.column, head.column),
  right: Math.max(anchor.column, head.column),
});

export function placesIn({ top, bottom, left, right }: Block): Place[] {
  const all: Place[] = [];
  for (let line = top; line <= bottom; line++)
    for (let column = left; column <= right; column++) all.push({ line, column });
  return all;
}

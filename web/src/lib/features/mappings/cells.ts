import type { Cell } from '@rigid-rule/core/document';

/** A key cell that stands for a blank key, where an absent one stands for any. */
export const isBlankCell = (cell: Cell | undefined): boolean =>
  typeof cell === 'object' && cell !== null && 'blank' in cell;

/** A key cell as people read it. */
export function keyCellText(cell: Cell | undefined): string {
  if (cell === undefined || cell === null) return 'any';
  return isBlankCell(cell) ? 'blank' : Array.isArray(cell) ? cell.join(', ') : String(cell);
}

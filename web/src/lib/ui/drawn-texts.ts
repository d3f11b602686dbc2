/**
 * The words and numbers of a drawing, so that none is written over another. Widths are estimates by the letter: what is
 * drawn on the server is not measured.
 */

/** Pixels of a letter: of names in bold, of words and small counts, of small numbers of one width, of figures. */
export const letters = { name: 7.5, word: 6.3, number: 7.6, figure: 9 } as const;

/** A text that has `width` pixels at `letter` pixels a letter: whole, cut short with an ellipsis, or none. */
export function clipped(text: string, width: number, letter: number): string {
  const letters = [...text];
  const fit = Math.floor(width / letter);
  if (letters.length <= fit) return text;
  return fit < 3
    ? ''
    : `${letters
        .slice(0, fit - 1)
        .join('')
        .trimEnd()}…`;
}

export interface PlacedText {
  readonly text: string;
  readonly x: number;
  readonly anchor: 'start' | 'middle' | 'end';
}

/** Pixels between two texts on a line. */
const between = 5;

/** The texts of one line that are drawn: of those that would touch, the one that comes first in the list. */
export function drawn<T extends PlacedText>(texts: readonly T[], letter: number): readonly T[] {
  const taken: (readonly [number, number])[] = [];
  return texts.filter(({ text, x, anchor }) => {
    const width = [...text].length * letter;
    const from = x - (anchor === 'start' ? 0 : anchor === 'middle' ? width / 2 : width);
    const isFree = taken.every(([a, b]) => from + width + between <= a || b + between <= from);
    if (isFree) taken.push([from, from + width]);
    return isFree;
  });
}

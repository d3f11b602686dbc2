/** Parts of sentences put together. */

/** `a, b and c`. */
export const enumerate = (items: readonly string[], word = 'and'): string =>
  items.length < 2 ? items.join('') : `${items.slice(0, -1).join(', ')} ${word} ${items.at(-1)!}`;

/** `1 finding`, `2 findings`. */
export const counted = (n: number, one: string, many = `${one}s`): string => `${n} ${n === 1 ? one : many}`;

/** Clauses as sentences: each with its first letter large and its full stop. */
export const sentences = (clauses: readonly string[]): string =>
  clauses
    .filter((c) => c !== '')
    .map((c) => `${c[0]!.toUpperCase()}${c.slice(1)}${/[.!?]”?$/.test(c) ? '' : '.'}`)
    .join(' ');

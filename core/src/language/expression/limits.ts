/**
 * What a formula may be at most, told before the grammar sees it: the grammar's time grows faster than the text where
 * brackets nest, and it gives up on long chains with a message that is not to the point.
 */
import { diagnostic, type Diagnostic } from '../../diagnostics/catalog.ts';

export const formulaLimits = {
  /** UTF-16 code units. */
  characters: 20_000,
  /** Expressions, or brackets, inside one another. */
  depth: 200,
  /** Words, numbers, texts and signs. */
  tokens: 2_000,
  /** Words in a row without a sign between them: the grammar tries each run of them as a name. */
  run: 250,
  /** Parts joined by operators between two brackets or commas: the grammar's own limit lies a little above. */
  chain: 150,
} as const;

const token = /"(?:[^"\\]|\\.)*"?|\/\/[^\n]*|\/\*[\s\S]*?(?:\*\/|$)|[\p{L}\p{N}_]+|\*\*|\s+|[\s\S]/gsu;
const joining: ReadonlySet<string> = new Set(['or', 'and', 'between', '+', '-', '*', '/', '**', '^']);

/** The first limit that a text goes beyond. One pass, in time linear in the text. */
export function beyondLimits(text: string): Diagnostic | undefined {
  const { characters, depth, tokens, chain, run } = formulaLimits;
  if (text.length > characters)
    return diagnostic('syntax.too-long', { from: characters, to: text.length }, { limit: characters });
  let [count, words] = [0, 0];
  const chains: number[] = [0];
  for (const { 0: found, index } of text.matchAll(token)) {
    if (/^(?:\s|\/\/)/.test(found)) continue;
    const range = { from: index, to: index + found.length };
    if (found.startsWith('/*') && !(found.length > 3 && found.endsWith('*/')))
      return diagnostic('syntax.comment', range);
    if (found.startsWith('/*')) continue;
    words = /^[\p{L}\p{N}_]/u.test(found) ? words + 1 : 0;
    if (++count > tokens || words > run) return diagnostic('syntax.too-many-words', range, { limit: tokens });
    if (/^[([{]/.test(found)) {
      chains.push(0);
      if (chains.length > depth + 1) return diagnostic('syntax.too-deep', range, { limit: depth });
    } else if (/^[)\]}]/.test(found)) {
      if (chains.length > 1) chains.pop();
    } else if (found === ',') chains[chains.length - 1] = 0;
    else if (joining.has(found) && ++chains[chains.length - 1]! > chain)
      return diagnostic('syntax.long-chain', range, { limit: chain });
  }
  return undefined;
}

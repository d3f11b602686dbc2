/** What a formula may be at most, told before it is parsed: what comes after may be recursive in it. */
import { diagnostic, type Diagnostic } from '../../diagnostics/catalog.ts';
import type { Token } from './tokens.ts';

export const formulaLimits = {
  /** UTF-16 code units. */
  characters: 20_000,
  /** Expressions, or brackets, inside one another. */
  depth: 200,
  /** Words, numbers, texts and signs. */
  tokens: 2_000,
  /** Parts joined by operators between two brackets or commas. */
  chain: 150,
} as const;

const joining: ReadonlySet<string> = new Set(['or', 'and', 'between', '+', '-', '*', '/', '**', '^']);

/** The first limit that a text's tokens go beyond, in time linear in them; its length is the caller's to check. */
export function beyondLimits(tokens: readonly Token[]): Diagnostic | undefined {
  const { depth, tokens: most, chain } = formulaLimits;
  const chains: number[] = [0];
  for (const [i, t] of tokens.entries()) {
    if (i >= most && t.kind !== 'end') return diagnostic('syntax.too-many-words', t, { limit: most });
    if (t.kind !== 'sign' && t.kind !== 'word') continue;
    if (/^[([{]$/.test(t.text)) {
      chains.push(0);
      if (chains.length > depth + 1) return diagnostic('syntax.too-deep', t, { limit: depth });
    } else if (/^[)\]}]$/.test(t.text)) {
      if (chains.length > 1) chains.pop();
    } else if (t.text === ',') chains[chains.length - 1] = 0;
    else if (joining.has(t.text) && ++chains[chains.length - 1]! > chain)
      return diagnostic('syntax.long-chain', t, { limit: chain });
  }
  return undefined;
}

/**
 * What was likely meant where FEEL has no such sign: by other languages, by spreadsheets, and by word processors, which
 * turn what is typed into signs of print.
 */
import { quoteText } from '../types/text-literal.ts';
import { reservedWords } from '../../document/names.ts';
import type { TextRange } from '../../diagnostics/catalog.ts';
import type { Token } from './tokens.ts';

export interface Likely extends TextRange {
  /** To be written there instead. */
  readonly nearest: string;
}

const likelySigns: ReadonlyMap<string, string> = new Map([
  ['^', '**'],
  ['==', '='],
  ['<>', '!='],
  ['&&', 'and'],
  ['||', 'or'],
  ['&', '+'],
  [';', ','],
  ['≠', '!='],
  ['≤', '<='],
  ['≥', '>='],
  ['−', '-'],
  ['–', '-'],
  ['—', '-'],
  ['×', '*'],
  ['·', '*'],
  ['÷', '/'],
]);

/** A text between quotes that are not straight and double. */
const printedText = /['‘’‚‛“”„‟‹›«»]([^'‘’‚‛“”„‟‹›«»"\n\r]*)['‘’‛“”‟‹›«»]/y;

/** The word as FEEL reserves it, small: spreadsheets write them large. */
const asReserved = (word: string): string | undefined =>
  reservedWords.has(word.toLowerCase()) ? word.toLowerCase() : undefined;

/** A name in which words stand that were meant as FEEL reserves them; undefined where there is none. */
export function withReservedWords(name: string): string | undefined {
  const written = name.replace(/\S+/g, (word) => (word === word.toUpperCase() && asReserved(word)) || word);
  return written === name ? undefined : written;
}

/** What stands at a token that has no place there, where it is likely what was meant. */
export function likelyMeant(text: string, tokens: readonly Token[], index: number): Likely | undefined {
  const token = tokens[index]!;
  const { kind, from, to } = token;
  if (kind === 'word') {
    const nearest = asReserved(token.text);
    return nearest === undefined || nearest === token.text ? undefined : { from, to, nearest };
  }
  if (kind !== 'sign') return undefined;
  printedText.lastIndex = from;
  const printed = printedText.exec(text);
  if (printed) return { from, to: from + printed[0].length, nearest: quoteText(printed[1]!) };
  const sign = likelySigns.get(token.text);
  if (sign !== undefined) return { from, to, nearest: sign };
  return token.text === ',' ? groupedNumber(tokens, index - 1) : undefined;
}

/** A number written in groups of three digits, from its first token on. FEEL takes each group for a number. */
export function groupedNumber(tokens: readonly Token[], first: number): Likely | undefined {
  const begin = tokens[first];
  if (begin?.kind !== 'number' || !/^\d{1,3}$/.test(begin.text)) return undefined;
  let [nearest, to] = [begin.text, begin.to];
  for (let i = first + 1; tokens[i]?.text === ',' && tokens[i]!.from === to; i += 2) {
    const group = tokens[i + 1];
    if (group?.from !== to + 1 || !/^\d{3}(\.\d+)?$/.test(group.text)) break;
    [nearest, to] = [nearest + group.text, group.to];
  }
  return to === begin.to ? undefined : { from: begin.from, to, nearest };
}

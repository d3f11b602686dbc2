/**
 * The words and signs of a formula, each with its range: the lexical grammar of DMN 1.3 (rules 27 to 37 of FEEL). White
 * space and comments lie between tokens. What no rule takes is a sign of its own, for the parser to tell at its place.
 */
import type { TextRange } from '../../diagnostics/catalog.ts';

export interface Token extends TextRange {
  /** `word`: a part of a name, or a word that FEEL reserves; `end` stands behind the last token. */
  readonly kind: 'word' | 'number' | 'string' | 'sign' | 'end';
  readonly text: string;
  /** Whether white space or a comment stands before it, and whether that ends a line: no name goes on beyond one. */
  readonly spaced: boolean;
  readonly newLine: boolean;
}

/** Comments, as a regular expression. */
export const commentForm = '//[^\\n\\r\\u2028\\u2029]*|/\\*[^]*?\\*/';

const space = '\\s\\u0085\\u180E\\u200B';
const wordStart =
  '[?A-Z_a-z\\p{L}\\u00C0-\\u00D6\\u00D8-\\u00F6\\u00F8-\\u02FF\\u0370-\\u037D\\u037F-\\u167F\\u1681-\\u180D\\u180F-\\u1FFF' +
  '\\u200C-\\u200D\\u2070-\\u218F\\u2C00-\\u2FEF\\u3001-\\uD7FF\\uF900-\\uFDCF\\uFDF0-\\uFEFE\\uFF00-\\uFFFD\\u{10000}-\\u{EFFFF}]';
const wordPart = `(?:${wordStart}|[\\p{M}\\p{N}\\u00B7\\u203F\\u2040])`;
const pieces = new RegExp(
  [
    `([${space}]+)`,
    `(${commentForm})`,
    `(${wordStart}${wordPart}*)`,
    '((?:\\d+(?:\\.\\d+)?|\\.\\d+)(?:[eE][+-]?\\d+)?)',
    '("(?:[^"\\\\\\n\\r]|\\\\.)*")',
    '(\\*\\*|\\.\\.|->|<=|>=|!=|==|<>|&&|\\|\\||/\\*|[^])',
  ].join('|'),
  'gu',
);

/** In time linear in the text: a text or comment that is not closed is a sign, and nothing behind it is looked at. */
export function tokenize(text: string): readonly Token[] {
  const tokens: Token[] = [];
  let [spaced, newLine] = [false, false];
  const add = (kind: Token['kind'], found: string, from: number): void => {
    tokens.push({ kind, text: found, from, to: from + found.length, spaced, newLine });
    [spaced, newLine] = [false, false];
  };
  for (const { 0: found, 1: white, 2: comment, 3: word, 4: number, 5: string, index } of text.matchAll(pieces)) {
    if (white !== undefined || comment !== undefined) {
      spaced = true;
      newLine ||= /[\n\r\u0085\u2028\u2029]/.test(found);
      continue;
    }
    add(word ? 'word' : number ? 'number' : string ? 'string' : 'sign', found, index);
    if (found === '"' || found === '/*') break;
  }
  add('end', '', text.length);
  return tokens;
}

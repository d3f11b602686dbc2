/** Where a type that is written in a formula ends: `list<number>`, `context<a: string>`, `function<date> -> boolean`. */
import { isReserved } from './known-names.ts';
import type { Token } from './tokens.ts';

/** Types whose names hold a word that is reserved elsewhere. */
const longNames = ['date and time', 'days and time duration', 'years and months duration'].map((n) => n.split(' '));
const generic: ReadonlySet<string> = new Set(['list', 'range', 'context', 'function']);

/** The index behind the type that begins at `from`; undefined where none does. */
export function skipType(tokens: readonly Token[], from: number): number | undefined {
  const isNext = (text: string): boolean => tokens[at]!.kind !== 'string' && tokens[at]!.text === text;
  let at = from;
  if (tokens[at]!.kind !== 'word') return undefined;
  const long = longNames.find((words) => words.every((w, i) => tokens[from + i]?.text === w));
  if (long) return from + long.length;
  const head = tokens[at++]!.text;
  while (tokens[at]!.kind === 'word' && !isReserved(tokens[at]!) && !tokens[at]!.newLine) at++;
  while (isNext('.') && tokens[at + 1]!.kind === 'word') at += 2;
  if (!generic.has(head)) return at;
  if (isNext('<>')) at++;
  else if (isNext('<')) {
    do {
      at++;
      if (tokens[at + 1]?.text === ':') at += 2;
      const end = skipType(tokens, at);
      if (end === undefined) return undefined;
      at = end;
    } while (isNext(','));
    if (!isNext('>')) return undefined;
    at++;
  }
  if (head !== 'function' || !isNext('->')) return at;
  return skipType(tokens, at + 1);
}

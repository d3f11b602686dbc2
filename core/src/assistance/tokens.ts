/** A formula cut into what an editor shows in one colour each; also what a formula is that does not parse yet. */
import { reservedWords } from '../document/names.ts';
import { functionNames } from '../language/functions/index.ts';
import type { Scope } from '../language/expression/scope.ts';

export type TokenKind = 'name' | 'function' | 'keyword' | 'text' | 'number' | 'operator' | 'comment' | 'unknown';

export interface Token {
  readonly kind: TokenKind;
  readonly from: number;
  readonly to: number;
}

/** `not` is a function. */
const keywords: ReadonlySet<string> = new Set([...reservedWords].filter((word) => word !== 'not'));
const known: ReadonlySet<string> = new Set(functionNames);
const pieces =
  /(?<comment>\/\/[^\n]*|\/\*[\s\S]*?(?:\*\/|$))|(?<text>"(?:\\.|[^"\\])*"?)|(?<number>\d+(?:\.\d+)?(?:[eE][-+]?\d+)?|\.\d+)|(?<word>[\p{L}_][\p{L}\p{M}\p{N}_]*)|(?<operator>\*\*|<=|>=|!=|\.\.|[-+*/=<>(){}[\],:.])|\S/gu;

/** Names may hold spaces: the longest one that is known and stands at a word is taken. */
function longestName(text: string, from: number, names: ReadonlySet<string>, most: number): string | undefined {
  const ahead = text.slice(from, from + most + 1);
  const words = ahead.match(/^[\p{L}\p{M}\p{N}_]+(?: [\p{L}\p{M}\p{N}_]+)*/u)?.[0];
  if (words === undefined) return undefined;
  for (let name = words; name !== ''; name = name.slice(0, Math.max(0, name.lastIndexOf(' ')))) {
    const next = text[from + name.length];
    if (names.has(name) && (next === undefined || !/[\p{L}\p{M}\p{N}_]/u.test(next))) return name;
  }
  return undefined;
}

export function tokensOf(text: string, scope: Pick<Scope, 'names'>, more: readonly string[] = []): Token[] {
  const names = new Set([...Object.keys(scope.names), ...more, 'previous', 'record', 'origin', 'user', 'match']);
  const most = Math.max(0, ...[...names].map((n) => n.length));
  const found: Token[] = [];
  pieces.lastIndex = 0;
  for (let m = pieces.exec(text); m; m = pieces.exec(text)) {
    const from = m.index;
    const { comment, text: quoted, number, word, operator } = m.groups as Record<string, string | undefined>;
    if (word === undefined) {
      const kind = comment ? 'comment' : quoted ? 'text' : number ? 'number' : operator ? 'operator' : 'unknown';
      found.push({ kind, from, to: pieces.lastIndex });
      continue;
    }
    const name = longestName(text, from, names, most) ?? word;
    pieces.lastIndex = from + name.length;
    const kind = keywords.has(name) ? 'keyword' : names.has(name) ? 'name' : 'unknown';
    // A name before a bracket is a function, where there is one of that name.
    const called = known.has(name) && /^\s*\(/.test(text.slice(from + name.length));
    found.push({ kind: called ? 'function' : kind, from, to: from + name.length });
  }
  return found;
}

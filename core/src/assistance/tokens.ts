/**
 * A formula cut into what an editor shows in one colour each, by the words and names of the language; also what a formula is
 * that does not parse yet.
 */
import { functionNames } from '../language/functions/index.ts';
import { isReserved, type KnownNames, nameEnd } from '../language/expression/known-names.ts';
import { originName, previousName, selfName, userName, type Scope } from '../language/expression/scope.ts';
import { commentForm, tokenize, type Token as Lexeme } from '../language/expression/tokens.ts';

export type TokenKind = 'name' | 'function' | 'keyword' | 'text' | 'number' | 'operator' | 'comment' | 'unknown';

export interface Token {
  readonly kind: TokenKind;
  readonly from: number;
  readonly to: number;
}

const builtIn: ReadonlySet<string> = new Set(functionNames);
/** Names of the language itself. */
const ownNames = [previousName, selfName, originName, userName];
const operators: ReadonlySet<string> = new Set('** <= >= != .. - + * / = < > ( ) { } [ ] , : .'.split(' '));

/** @param more Names of values that are no fields: variables, scratch values. */
export function tokensOf(text: string, scope: Pick<Scope, 'names'>, more: readonly string[] = []): Token[] {
  const names = scope.names.with([...more, ...ownNames]);
  const { heads } = names.index;
  const lexemes = tokenize(text);
  const found: Token[] = [];
  for (let i = 0, behind = 0; i < lexemes.length;) {
    const first = lexemes[i]!;
    found.push(...commentsIn(text, behind, first.from));
    if (first.kind === 'end') break;
    const end = Math.max(nameEnd(lexemes, i, heads), i + 1);
    behind = isUnclosed(first) ? text.length : lexemes[end - 1]!.to;
    const name = nameOf(lexemes.slice(i, end));
    const isCalled = builtIn.has(name) && lexemes[end]!.text === '(';
    // What stands behind a dot is the name of a part; whether there is such a part, the checker tells.
    const isPart = first.kind === 'word' && lexemes[i - 1]?.text === '.';
    found.push({ kind: isPart ? 'name' : kindOf(first, name, names, isCalled), from: first.from, to: behind });
    i = behind === text.length ? lexemes.length : end;
  }
  return found;
}

/** A text or comment that is not closed takes in all that stands behind it. */
const isUnclosed = ({ kind, text }: Lexeme): boolean => kind === 'sign' && (text === '"' || text === '/*');

/** The words of a name with one space between them, however they are written. */
const nameOf = (words: readonly Lexeme[]): string =>
  words.map((w, i) => (i > 0 && w.spaced ? ` ${w.text}` : w.text)).join('');

function kindOf(first: Lexeme, name: string, names: KnownNames, isCalled: boolean): TokenKind {
  if (first.kind === 'number') return 'number';
  if (first.kind === 'string') return 'text';
  if (first.kind === 'sign') {
    if (isUnclosed(first)) return first.text === '"' ? 'text' : 'comment';
    return operators.has(first.text) ? 'operator' : 'unknown';
  }
  // A name before a bracket is a function, where there is one of that name.
  if (isCalled) return 'function';
  if (names.has(name)) return 'name';
  return isReserved(first) || name === 'of' ? 'keyword' : 'unknown';
}

/** White space holds comments, as tokens of their own. */
const commentsIn = (text: string, from: number, to: number): Token[] =>
  [...text.slice(from, to).matchAll(new RegExp(commentForm, 'g'))].map(({ 0: comment, index }) => ({
    kind: 'comment',
    from: from + index,
    to: from + index + comment.length,
  }));

/** Which names stand in a text: words in a row are one; those with reserved words or signs in them are told by the scope. */
import { reservedWords } from '../../document/names.ts';
import { tokenize, type Token } from './tokens.ts';

/** Names that formulas may use, and for paths the names behind them. */
export interface NameScope {
  readonly [name: string]: NameScope | true;
}

/** Words that are no part of a name, unless of one that is known: `not` is a function's, and `of` stands behind `instance`. */
const reserved: ReadonlySet<string> = new Set([...reservedWords].filter((word) => word !== 'not' && word !== 'of'));
export const isReserved = (t: Token): boolean => t.kind === 'word' && reserved.has(t.text);

/** Words and whole numbers: what a name may go on with. */
const isPart = (t: Token): boolean =>
  !t.newLine && (t.kind === 'word' ? !reserved.has(t.text) : t.kind === 'number' && /^\w+$/.test(t.text));

type Spelling = readonly Token[];

/** Names that words in a row do not make, by their first word, the longest first. */
export interface NameIndex {
  readonly heads: ReadonlyMap<string, readonly Spelling[]>;
  readonly members: ReadonlyMap<string, readonly Spelling[]>;
}

/** How a name has to be spelt where it is not just words in a row. */
function spellingOf(name: string): Spelling | undefined {
  if (/^[\p{L}\p{N}_]+(?: [\p{L}\p{N}_]+)*$/u.test(name) && !name.split(' ').some((w) => reserved.has(w)))
    return undefined;
  const spelling = tokenize(name).slice(0, -1);
  return spelling.length > 1 && spelling[0]!.kind === 'word' ? spelling : undefined;
}

export function indexNames(scope: NameScope): NameIndex {
  const [heads, members] = [new Map<string, Spelling[]>(), new Map<string, Spelling[]>()];
  const add = (to: Map<string, Spelling[]>, name: string): void => {
    const spelling = spellingOf(name);
    if (!spelling) return;
    const same = to.get(spelling[0]!.text) ?? [];
    to.set(
      spelling[0]!.text,
      [...same, spelling].sort((a, b) => b.length - a.length),
    );
  };
  const collect = (names: NameScope, to: Map<string, Spelling[]>): void => {
    for (const [name, inner] of Object.entries(names)) {
      add(to, name);
      if (inner !== true) collect(inner, members);
    }
  };
  collect(scope, heads);
  return { heads, members };
}

/** An index that knows one name more, as a head and as a member. */
export function withName(index: NameIndex, name: string): NameIndex {
  const more = indexNames({ [name]: { [name]: true } });
  if (more.heads.size === 0) return index;
  const joined = (a: NameIndex['heads'], b: NameIndex['heads']): NameIndex['heads'] =>
    new Map([...a, ...[...b].map(([word, list]) => [word, [...list, ...(a.get(word) ?? [])]] as const)]);
  return { heads: joined(index.heads, more.heads), members: joined(index.members, more.members) };
}

/** The names that formulas may use. What tells them in a text is worked out when there is one, once. */
export class KnownNames {
  private made: NameIndex | undefined;

  private constructor(
    readonly has: (name: string) => boolean,
    private readonly make: () => NameIndex,
  ) {}

  /** Names of which each may stand wherever a name may, behind the dot of a path as well. */
  static flat(names: ReadonlySet<string>): KnownNames {
    return new KnownNames(
      (name) => names.has(name),
      () => {
        const { heads } = indexNames(Object.fromEntries([...names].map((name) => [name, true as const])));
        return { heads, members: heads };
      },
    );
  }

  /** Names with those that may stand behind their dots. */
  static nested(names: NameScope): KnownNames {
    return new KnownNames(
      (name) => Object.hasOwn(names, name),
      () => indexNames(names),
    );
  }

  get index(): NameIndex {
    return (this.made ??= this.make());
  }

  with(names: readonly string[]): KnownNames {
    if (names.length === 0) return this;
    return new KnownNames(
      (name) => names.includes(name) || this.has(name),
      () => names.reduce(withName, this.index),
    );
  }
}

/** The index behind the last token of the name that begins at `from`; `from` itself where none does. */
export function nameEnd(tokens: readonly Token[], from: number, known: NameIndex['heads']): number {
  const first = tokens[from]!;
  if (first.kind !== 'word') return from;
  let end = from;
  if (!reserved.has(first.text)) for (end++; isPart(tokens[end]!);) end++;
  const spelt = (known.get(first.text) ?? []).find((s) => spells(tokens, from, s));
  return spelt ? Math.max(end, from + spelt.length) : end;
}

const spells = (tokens: readonly Token[], from: number, spelling: Spelling): boolean =>
  from + spelling.length < tokens.length &&
  spelling.every((s, i) => {
    const t = tokens[from + i]!;
    return t.text === s.text && (i === 0 || (t.spaced === s.spaced && !t.newLine));
  }) &&
  !isPart(tokens[from + spelling.length]!);

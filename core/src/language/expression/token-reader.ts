/** Reads the tokens of a formula: names, lists and brackets, and in words what stands where something else was due. */
import { diagnostic, type Diagnostic, type DiagnosticCode, type TextRange } from '../../diagnostics/catalog.ts';
import { isReserved, nameEnd, type NameIndex } from './known-names.ts';
import { likelyMeant, type Likely } from './likely.ts';
import { formulaLimits } from './limits.ts';
import { arithmetic, comparison } from './operators.ts';
import type { Token } from './tokens.ts';

/** Raised to leave a text that cannot be read; becomes a diagnostic. */
export class Unreadable extends Error {
  readonly diagnostic: Diagnostic;
  constructor(d: Diagnostic) {
    super(d.message);
    this.diagnostic = d;
  }
}

/** What comes to an end without being a value. */
const closers: ReadonlySet<string> = new Set([')', ']', '}', ',', '..']);
const joining: ReadonlySet<string> = new Set([
  'and',
  'or',
  ...Object.keys(comparison),
  // A minus may begin a value.
  ...Object.keys(arithmetic).filter((sign) => sign !== '-'),
]);

export class TokenReader {
  readonly text: string;
  readonly tokens: readonly Token[];
  /** Index of the token that is read next. */
  protected index = 0;
  protected names: NameIndex;
  private depth = 0;
  /** Whether `[` may close the range that is being read: `[1..2[`. */
  protected rangeMayClose = false;

  constructor(text: string, tokens: readonly Token[], names: NameIndex) {
    this.text = text;
    this.tokens = tokens;
    this.names = names;
  }

  protected get next(): Token {
    return this.tokens[this.index]!;
  }

  /** From an offset to the end of the token that was read last. */
  protected since(from: number): TextRange {
    return { from, to: this.tokens[this.index - 1]!.to };
  }

  protected isNext(text: string, ahead = 0): boolean {
    const t = this.tokens[this.index + ahead];
    return t?.text === text && (t.kind === 'sign' || t.kind === 'word');
  }

  protected take(): Token {
    const t = this.next;
    if (t.kind !== 'end') this.index++;
    return t;
  }

  protected accept(text: string): boolean {
    const found = this.isNext(text);
    if (found) this.index++;
    return found;
  }

  protected expect(text: string): Token {
    if (this.isNext(text)) return this.take();
    if (this.next.kind === 'end' || (this.next.kind === 'sign' && /^[)\]}]$/.test(this.next.text)))
      this.fail('syntax.incomplete', this.before(), { what: text });
    return this.unexpected(isReserved(this.next) && /^\w+$/.test(text) ? text : undefined);
  }

  protected slice(range: TextRange): string {
    return this.text.slice(range.from, range.to);
  }

  protected fail(code: DiagnosticCode, range: TextRange, data: Record<string, string | number> = {}): never {
    throw new Unreadable(diagnostic(code, { from: range.from, to: range.to }, data));
  }

  /** What is next cannot stand here. */
  protected unexpected(nearest?: string): never {
    const { kind, text, from, to } = this.next;
    if (kind === 'end') this.fail('syntax.incomplete', this.before());
    if (kind === 'sign' && text === '"') this.fail('syntax.string', { from, to: this.text.length });
    if (kind === 'sign' && text === '/*') this.fail('syntax.comment', { from, to: this.text.length });
    this.refuse(nearest === undefined ? likelyMeant(this.text, this.tokens, this.index) : { from, to, nearest });
  }

  /** Refuses what is next, or what was meant by something else. */
  protected refuse(likely: Likely | undefined): never {
    const range = likely ?? this.next;
    const found = this.slice(range);
    this.fail('syntax.unexpected', range, likely ? { found, nearest: likely.nearest } : { found });
  }

  /** A value, or what else is said, was due. */
  protected missing(what = 'A value'): never {
    const { kind, text } = this.next;
    if (kind === 'end') this.fail('syntax.incomplete', this.before(), { what });
    if (kind === 'sign' || kind === 'word') {
      if (closers.has(text)) this.fail('syntax.incomplete', this.before(), { what });
      if (joining.has(text)) this.fail('syntax.operator', this.next, { found: text });
    }
    return this.unexpected();
  }

  /** The place where something is missing. */
  private before(): TextRange {
    return { from: this.next.from, to: this.next.from };
  }

  protected nested<T>(read: () => T): T {
    const { depth: limit } = formulaLimits;
    if (++this.depth > limit) this.fail('syntax.too-deep', this.next, { limit });
    const found = read();
    this.depth--;
    return found;
  }

  /** What begins with the bracket that is next. */
  protected bracketed<T>(read: () => T): T {
    const { rangeMayClose } = this;
    this.rangeMayClose = false;
    this.take();
    const found = read();
    this.rangeMayClose = rangeMayClose;
    return found;
  }

  /** What stands between the bracket that is next and the one that closes it. */
  protected inBrackets<T>(close: string, read: () => T): T {
    return this.bracketed(() => {
      const found = read();
      this.expect(close);
      return found;
    });
  }

  /** What `read` gives, again after each comma; nothing where the bracket closes at once. */
  protected listed<T>(close: string, read: () => T): readonly T[] {
    return this.inBrackets(close, () => (this.isNext(close) ? [] : this.separated(read)));
  }

  protected separated<T>(read: () => T): readonly T[] {
    const found = [read()];
    while (this.accept(',')) found.push(read());
    return found;
  }

  /** Whether a name and a colon come, `ahead` tokens from here. */
  protected isNamed(ahead: number): boolean {
    const start = this.index + ahead;
    const end = start < this.tokens.length ? nameEnd(this.tokens, start, this.names.heads) : start;
    return end > start && this.tokens[end]!.text === ':';
  }

  /** A name as it is meant, and where it stands. */
  protected name(known = this.names.heads): readonly [string, TextRange] {
    const { from } = this.next;
    const end = nameEnd(this.tokens, this.index, known);
    if (end === this.index) this.missing('A name');
    this.index = end;
    const range = this.since(from);
    return [spaced(this.slice(range)), range];
  }
}

/** A name as it is meant, whatever stands between its parts. */
export const spaced = (name: string): string => name.trim().replace(/\s+/g, ' ');

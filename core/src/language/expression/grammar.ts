/**
 * Tokens to syntax tree: FEEL's grammar of DMN 1.3 by recursive descent, with these decisions where it leaves a choice.
 * - Words in a row are one name, known or not, so that a misspelt name is told as such; a name that holds a reserved word
 *   or a sign (`date and time`) is one only where it is known.
 * - Comparisons do not chain: `a < b < c` is an error, not a comparison of true or false with c.
 * - `in` binds as comparisons do: `a in [1..2] and b` is `(a in [1..2]) and b`.
 * The first thing that is wrong is told, and nothing is guessed behind it.
 */
import type { TextRange } from '../../diagnostics/catalog.ts';
import { negate, parseNumber } from '../../values/number.ts';
import {
  childrenOf,
  type ArithmeticOperator,
  type Call,
  type ComparisonOperator,
  type Context,
  type Expression,
  type Iterator,
  type Literal,
  type Range,
  type UnaryTest,
} from './ast.ts';
import { groupedNumber } from './likely.ts';
import { isReserved, nameEnd, withName } from './known-names.ts';
import { formulaLimits } from './limits.ts';
import { comparison } from './operators.ts';
import { parseTemporal } from '../types/temporal-literal.ts';
import { unescapeText } from '../types/text-literal.ts';
import { spaced, TokenReader } from './token-reader.ts';
import { skipType } from './type-names.ts';

/** Operators from those that bind least; comparisons bind more than `and` and less than `+`. */
const junctions = ['or', 'and'] as const;
const operators: readonly (readonly ArithmeticOperator[])[] = [['+', '-'], ['*', '/'], ['**']];

/** Where an operand begins that was read already, and what it is. */
interface Begun {
  readonly from: number;
  readonly expression: Expression;
}

export class Grammar extends TokenReader {
  /** What an operand begins with that is no name, number or text. */
  private static readonly beginnings: Readonly<Record<string, (p: Grammar, from: number) => Expression>> = {
    null: (p) => p.word(null),
    true: (p) => p.word(true),
    false: (p) => p.word(false),
    '@': (p, from) => p.temporal(from),
    '(': (p, from) => p.parenthesized(from),
    '[': (p, from) => p.list(from),
    ']': (p, from) => p.reversed(from),
    '{': (p, from) => p.context(from),
    if: (p, from) => p.conditional(from),
    for: (p, from) => p.loop(from),
    some: (p, from) => p.loop(from),
    every: (p, from) => p.loop(from),
    function: (p, from) => p.definition(from),
  };

  whole(): Expression {
    this.someText();
    const expression = this.expression();
    if (this.next.kind !== 'end') this.unexpected();
    this.withinDepth(expression);
    return expression;
  }

  /** All tests of a unary-tests text; `negated` where the whole stands in `not(...)`. */
  unaryTests(): { tests: readonly UnaryTest[]; negated: boolean } {
    this.someText();
    if (this.isNext('-') && this.tokens.length === 2) return { tests: [], negated: false };
    const negated = this.negatedTests();
    const tests = negated ?? this.tests();
    if (this.next.kind !== 'end') this.unexpected();
    for (const t of tests) for (const e of t.kind === 'interval' ? [t.low, t.high] : [t.value]) this.withinDepth(e);
    return { tests, negated: negated !== undefined };
  }

  private someText(): void {
    if (this.tokens.length === 1) this.fail('syntax.empty', { from: 0, to: this.text.length });
  }

  private negatedTests(): readonly UnaryTest[] | undefined {
    const start = this.index;
    if (!this.accept('not') || !this.isNext('(') || this.isNext(')', 1) || this.isNamed(1)) {
      this.index = start;
      return undefined;
    }
    const tests = this.inBrackets(')', () => this.tests());
    if (this.next.kind === 'end') return tests;
    this.index = start;
    return undefined;
  }

  /** A tree is as deep as others may follow it by recursion. */
  private withinDepth(e: Expression, depth = 1): void {
    const { depth: limit } = formulaLimits;
    if (depth > limit) this.fail('syntax.too-deep', e.range, { limit });
    for (const child of childrenOf(e)) this.withinDepth(child, depth + 1);
  }

  private expression(): Expression {
    return this.nested(() => (/^[<>]=?$/.test(this.next.text) ? this.openRange() : this.junction(0)));
  }

  private junction(level: number): Expression {
    const kind = junctions[level];
    if (!kind) return this.comparison();
    const { from } = this.next;
    let left = this.junction(level + 1);
    while (this.accept(kind)) {
      const right = this.junction(level + 1);
      left = { kind, range: this.since(from), left, right };
    }
    return left;
  }

  private comparison(): Expression {
    const { from } = this.next;
    const left = this.arithmetic();
    const operator = this.comparisonOperator();
    let found: Expression;
    if (operator) {
      const operatorRange = rangeOf(this.take());
      const right = this.arithmetic();
      found = { kind: 'comparison', range: this.since(from), operator, operatorRange, left, right };
    } else if (this.accept('between')) {
      const low = this.arithmetic();
      this.expect('and');
      const high = this.arithmetic();
      found = { kind: 'between', range: this.since(from), operand: left, low, high };
    } else if (this.accept('in')) {
      const tests = this.isNext('(') ? this.testsInBrackets() : [this.test()];
      found = { kind: 'in', range: this.since(from), operand: left, tests };
    } else return left;
    if (this.comparisonOperator() || this.isNext('in') || this.isNext('between')) this.unexpected();
    return found;
  }

  private comparisonOperator(): ComparisonOperator | undefined {
    const { kind, text } = this.next;
    return kind === 'sign' && Object.hasOwn(comparison, text) ? (text as ComparisonOperator) : undefined;
  }

  private arithmetic(begun?: Begun, level = 0): Expression {
    const those = operators[level];
    if (!those) return this.unary(begun);
    const from = begun?.from ?? this.next.from;
    let left = this.arithmetic(begun, level + 1);
    for (let operator; (operator = those.find((o) => this.isNext(o)));) {
      const operatorRange = rangeOf(this.take());
      const right = this.arithmetic(undefined, level + 1);
      left = { kind: 'arithmetic', range: this.since(from), operator, operatorRange, left, right };
    }
    return left;
  }

  private unary(begun?: Begun): Expression {
    const from = begun?.from ?? this.next.from;
    if (!begun && this.isNext('-') && this.tokens[this.index + 1]!.kind !== 'number') {
      this.take();
      const operand = this.nested(() => this.unary());
      return { kind: 'negation', range: this.since(from), operand };
    }
    const operand = this.followed(begun ?? { from, expression: this.primary() });
    if (!this.accept('instance')) return operand;
    this.expect('of');
    const type = this.type();
    return { kind: 'instance of', range: this.since(from), operand, type };
  }

  /** An operand with the paths, filters and calls that follow it. */
  private followed({ from, expression }: Begun): Expression {
    let found = expression;
    for (;;) {
      if (this.isNext('.')) {
        this.take();
        const [name, nameRange] = this.name(this.names.members);
        found = { kind: 'path', range: this.since(from), object: found, name, nameRange };
      } else if (this.isNext('[') && !this.closesRange()) {
        const condition = this.inBrackets(']', () => this.expression());
        found = { kind: 'filter', range: this.since(from), object: found, condition };
      } else if (this.isNext('(')) found = this.call(from, found);
      else return found;
    }
  }

  /** `[` closes a range where nothing follows by which it would be a filter: no operator on ranges begins an operand. */
  private closesRange(): boolean {
    return this.rangeMayClose && !this.beginsOperand(1);
  }

  private beginsOperand(ahead: number): boolean {
    const { kind, text } = this.tokens[this.index + ahead]!;
    return kind === 'sign' ? /^[-([{@<>]$/.test(text) : this.beginsWord(ahead);
  }

  private beginsWord(ahead: number): boolean {
    const token = this.tokens[this.index + ahead]!;
    if (token.kind === 'sign' || token.kind === 'end') return false;
    return !isReserved(token) || Object.hasOwn(Grammar.beginnings, token.text);
  }

  private call(from: number, callee: Expression): Call {
    const named = callee.kind === 'name' && callee.range.from === from;
    const base = {
      kind: 'call',
      name: named ? callee.name : '',
      nameRange: this.since(from),
      ...(named ? {} : { callee }),
    } as const;
    if (!this.isNamed(1))
      return { ...base, arguments: this.listed(')', () => this.expression()), range: this.since(from) };
    const pairs = this.listed(')', () => {
      const [name] = this.name();
      this.expect(':');
      return [name, this.expression()] as const;
    });
    return {
      ...base,
      range: this.since(from),
      names: pairs.map(([name]) => name),
      arguments: pairs.map(([, value]) => value),
    };
  }

  private primary(): Expression {
    const { kind, text, from } = this.next;
    if (kind === 'number' || (kind === 'sign' && text === '-')) return this.number();
    if (kind === 'string') return { kind: 'literal', range: rangeOf(this.take()), value: unescapeText(text) };
    const known = kind === 'word' && this.index < nameEnd(this.tokens, this.index, this.names.heads);
    if (known) {
      const [name, range] = this.name();
      return { kind: 'name', range, name };
    }
    const { beginnings } = Grammar;
    return Object.hasOwn(beginnings, text) ? beginnings[text]!(this, from) : this.missing();
  }

  private number(): Expression {
    const { from } = this.next;
    const negative = this.accept('-');
    const grouped = groupedNumber(this.tokens, this.index);
    // Where a comma has its place: nobody writes a number of its own that begins with a naught.
    if (grouped && /^\d+,0/.test(this.slice(grouped))) this.refuse(grouped);
    const value = parseNumber(this.take().text);
    const range = this.since(from);
    if (value === null) this.fail('syntax.number', range, { found: this.slice(range) });
    return { kind: 'literal', range, value: negative ? negate(value) : value };
  }

  private word(value: Literal['value']): Expression {
    return { kind: 'literal', range: rangeOf(this.take()), value };
  }

  private temporal(from: number): Expression {
    this.take();
    if (this.next.kind !== 'string') this.missing('A text');
    const value = parseTemporal(unescapeText(this.take().text));
    const range = this.since(from);
    if (value === null) this.fail('syntax.temporal', range, { found: this.slice(range) });
    return { kind: 'literal', range, value };
  }

  private conditional(from: number): Expression {
    this.take();
    const condition = this.expression();
    this.expect('then');
    const then = this.expression();
    this.expect('else');
    const otherwise = this.expression();
    return { kind: 'if', range: this.since(from), condition, then, otherwise };
  }

  private loop(from: number): Expression {
    const kind = this.take().text as 'for' | 'some' | 'every';
    return this.withOwnNames(() => {
      const iterators = this.separated(() => this.iterator());
      this.expect(kind === 'for' ? 'return' : 'satisfies');
      const body = this.expression();
      return { kind, range: this.since(from), iterators, body };
    });
  }

  private iterator(): Iterator {
    const [name] = this.name();
    this.expect('in');
    const domain = this.expression();
    const end = this.accept('..') ? this.expression() : undefined;
    this.names = withName(this.names, name);
    return { name, domain, ...(end ? { end } : {}) };
  }

  private withOwnNames<T>(read: () => T): T {
    const { names } = this;
    const found = read();
    this.names = names;
    return found;
  }

  private definition(from: number): Expression {
    this.take();
    if (!this.isNext('(')) this.expect('(');
    return this.withOwnNames(() => {
      const parameters = this.listed(')', () => {
        const [name] = this.name();
        if (this.accept(':')) this.type();
        this.names = withName(this.names, name);
        return name;
      });
      if (this.isNext('external')) this.fail('syntax.unsupported', this.next, { what: 'An external function' });
      const body = this.expression();
      return { kind: 'function', range: this.since(from), parameters, body };
    });
  }

  /** A type as it is written, parts joined by single spaces. */
  private type(): string {
    const { from } = this.next;
    const end = skipType(this.tokens, this.index);
    if (end === undefined) this.missing('A type');
    this.index = end;
    return spaced(this.slice(this.since(from)));
  }

  private context(from: number): Expression {
    const entries = this.listed('}', (): Context['entries'][number] => {
      const start = this.next.from;
      if (this.next.kind === 'string') this.take();
      else this.key();
      const keyRange = this.since(start);
      const written = this.slice(keyRange);
      const key = written.startsWith('"') ? unescapeText(written) : spaced(written);
      this.names = withName(this.names, key);
      this.expect(':');
      return { key, keyRange, value: this.expression() };
    });
    return { kind: 'context', range: this.since(from), entries };
  }

  /** The key of a context's entry: a name in which signs and reserved words may stand. */
  private key(): void {
    if (this.next.kind !== 'word') this.missing('A name');
    while (this.next.kind === 'word' || this.next.kind === 'number' || /^[-+*/.'’]$/.test(this.next.text)) this.take();
  }

  /** `(…)`: an expression, or a range without its ends. */
  private parenthesized(from: number): Expression {
    return this.bracketed(() => {
      const found = this.expression();
      if (this.isNext('..')) return this.range(from, '(', found);
      this.expect(')');
      return found;
    });
  }

  /** `[…]`: a list, or a range with its lower end. */
  private list(from: number): Expression {
    return this.bracketed(() => {
      const items = this.isNext(']') && !this.beginsWord(1) ? [] : [this.expression()];
      if (items.length > 0 && this.isNext('..')) return this.range(from, '[', items[0]!);
      while (items.length > 0 && this.accept(',')) items.push(this.expression());
      this.expect(']');
      return { kind: 'list', range: this.since(from), items };
    });
  }

  /** `]…`: a range without its lower end. */
  private reversed(from: number): Expression {
    if (!this.beginsOperand(1)) this.missing();
    return this.bracketed(() => {
      const low = this.expression();
      if (!this.isNext('..')) this.expect('..');
      return this.range(from, ']', low);
    });
  }

  /** From the dots on. */
  private range(from: number, open: string, low: Expression): Range {
    this.take();
    this.rangeMayClose = true;
    const high = this.expression();
    if (!/^[)\][]$/.test(this.next.text)) this.expect(open === '(' ? ')' : ']');
    const close = this.take().text;
    return {
      kind: 'range',
      range: this.since(from),
      low,
      high,
      lowIncluded: open === '[',
      highIncluded: close === ']',
    };
  }

  /** `< 5` where a value stands: a range with one end. */
  private openRange(): Expression {
    const { from, text: operator } = this.take();
    const value = this.arithmetic();
    const range = this.since(from);
    const none: Expression = { kind: 'literal', range, value: null };
    const [below, included] = [operator.startsWith('<'), operator.endsWith('=')];
    return {
      kind: 'range',
      range,
      low: below ? none : value,
      high: below ? value : none,
      lowIncluded: !below && included,
      highIncluded: below && included,
    };
  }

  private tests(): readonly UnaryTest[] {
    return this.separated(() => this.test(() => this.expression()));
  }

  /** One positive unary test; `value` reads what is neither a range nor begins with a comparison. */
  private test(value: () => Expression = () => this.arithmetic()): UnaryTest {
    const { from } = this.next;
    const operator = this.comparisonOperator();
    if (operator) {
      this.take();
      const compared = this.arithmetic();
      return { kind: 'compare', range: this.since(from), operator, value: compared };
    }
    return testOf(value(), this.since(from));
  }

  /** Behind `in`: tests in brackets, or a single value that begins with a bracket, such as `(a + b) * c`. */
  private testsInBrackets(): readonly UnaryTest[] {
    const { from } = this.next;
    const tests = this.bracketed((): readonly UnaryTest[] => {
      const first = this.test(() => this.expression());
      const low = valueOf(first);
      if (low && this.isNext('..')) return [testOf(this.range(from, '(', low), this.since(from))];
      const more = this.accept(',') ? this.tests() : [];
      this.expect(')');
      return [first, ...more];
    });
    const expression = tests.length === 1 ? valueOf(tests[0]!) : undefined;
    if (!expression || !this.goesOn()) return tests;
    return [testOf(this.arithmetic({ from, expression }), this.since(from))];
  }

  /** Whether what was read is only the first part of an operand. */
  private goesOn(): boolean {
    return (
      ['.', '[', '(', 'instance', ...operators.flat()].some((t) => this.isNext(t)) &&
      !(this.isNext('[') && this.closesRange())
    );
  }
}

/** A range stands for its ends where it is a test itself, not a value that is compared. */
function testOf(value: Expression, range: TextRange): UnaryTest {
  if (value.kind !== 'range' || isOpen(value)) return { kind: 'equal', range, value };
  const { low, high, lowIncluded, highIncluded } = value;
  return { kind: 'interval', range, low, high, lowIncluded, highIncluded };
}

/** What a test would be where a value stands; undefined for a comparison. */
function valueOf(test: UnaryTest): Expression | undefined {
  if (test.kind === 'compare') return undefined;
  return test.kind === 'equal' ? test.value : { ...test, kind: 'range' };
}

/** `(< 5)`: the end that it has not lies where the other is written. */
const isOpen = ({ low, high, range }: Range): boolean =>
  [low, high].some((end) => end.range.from === range.from && end.range.to === range.to);

const rangeOf = ({ from, to }: TextRange): TextRange => ({ from, to });

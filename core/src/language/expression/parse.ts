/**
 * Text to syntax tree. The grammar is lezer-feel's; what it accepts wrongly is caught here, so that a tree without
 * diagnostics means what it says. The parser is configured once per set of names and shared (a rebuild costs about
 * 1 ms at 300 fields).
 */
import type { SyntaxNode, Tree } from '@lezer/common';
import { parser as feel, trackVariables } from 'lezer-feel';
import { diagnostic, type Diagnostic, type DiagnosticCode, type TextRange } from '../../diagnostics/catalog.ts';
import { parseNumber, negate } from '../../values/number.ts';
import type { ArithmeticOperator, ComparisonOperator, Expression, Iterator, UnaryTest } from './ast.ts';
import { beyondLimits, formulaLimits } from './limits.ts';
import { arithmetic, comparison } from './operators.ts';
import { parseTemporal } from './temporal-literal.ts';
import { unescapeText } from './text-literal.ts';

/** Names known to the parser: field names, functions, and for paths the names behind them. */
export interface NameScope {
  readonly [name: string]: NameScope | true;
}

export interface Parsed {
  readonly text: string;
  readonly tree: Tree;
  /** Absent when the text does not parse. */
  readonly expression?: Expression;
  readonly diagnostics: readonly Diagnostic[];
}

export interface ParsedTests {
  readonly tests: readonly UnaryTest[];
  readonly negated: boolean;
  readonly diagnostics: readonly Diagnostic[];
}

export interface FormulaParser {
  parse(text: string): Parsed;
  /** DMN unary tests: what a cell of a table may hold. */
  parseTests(text: string): ParsedTests;
}

/** Parsers kept for the sets of names that texts used; one costs about a millisecond to configure. */
const parsersKept = 500;

/**
 * The grammar has to be told only of names with spaces, and its time for a text grows with the names that it is told
 * of: so each text is read by a parser that knows just the names that occur in it.
 */
export function createParser(scope: NameScope): FormulaParser {
  const kept = new Map<string, typeof feel>();
  let index: NameIndex | undefined;
  const parserFor = (text: string, top: 'Expression' | 'UnaryTests'): typeof feel => {
    const names = namesIn((index ??= indexNames(scope)), ` ${text.replace(/[\s\u00a0]+/g, ' ')} `);
    const key = `${top}:${JSON.stringify(names)}`;
    let parser = kept.get(key);
    if (!parser) {
      parser = feel.configure({ contextTracker: trackVariables(names), top });
      if (kept.size >= parsersKept) kept.clear();
      kept.set(key, parser);
    }
    return parser;
  };
  /** The tree of a text within limits; the grammar's own failures become a diagnostic like all others. */
  const treeOf = (text: string, top: 'Expression' | 'UnaryTests'): Tree | Diagnostic => {
    const beyond = beyondLimits(text);
    if (beyond) return beyond;
    try {
      return parserFor(text, top).parse(text);
    } catch {
      return diagnostic('syntax.unreadable', { from: 0, to: text.length });
    }
  };
  return {
    parseTests(text) {
      const tree = treeOf(text, 'UnaryTests');
      if ('code' in tree) return { tests: [], negated: false, diagnostics: [tree] };
      return new Reader(text, tree).readTests();
    },
    parse(text) {
      const tree = treeOf(text, 'Expression');
      if ('code' in tree) return { text, tree: feel.parse(''), diagnostics: [tree] };
      return new Reader(text, tree).read();
    },
  };
}

/** The names of a scope that the grammar has to be told of, by their first word: a text can name only those whose first word it holds. */
type NameIndex = ReadonlyMap<string, readonly (readonly [name: string, inner: NameIndex | true])[]>;

const word = /[\p{L}\p{N}_]+/u;
const words = new RegExp(word, 'gu');

function indexNames(scope: NameScope): NameIndex {
  const index = new Map<string, [string, NameIndex | true][]>();
  for (const [name, inner] of Object.entries(scope)) {
    if (inner === true && !name.includes(' ')) continue;
    const first = word.exec(name)?.[0] ?? '';
    const those = index.get(first) ?? [];
    those.push([name, inner === true ? true : indexNames(inner)]);
    index.set(first, those);
  }
  return index;
}

/** The part of a scope that a text, its white space made single, can name. */
function namesIn(index: NameIndex, text: string): NameScope {
  const found: Record<string, NameScope | true> = {};
  for (const first of new Set(['', ...(text.match(words) ?? [])]))
    for (const [name, inner] of index.get(first) ?? [])
      if (text.includes(name)) found[name] = inner === true ? true : namesIn(inner, text);
  return found;
}

/** Raised inside the reader only, to leave a tree that cannot be read; becomes a diagnostic. */
class Unreadable extends Error {
  readonly diagnostic: Diagnostic;
  constructor(d: Diagnostic) {
    super(d.message);
    this.diagnostic = d;
  }
}

class Reader {
  private readonly text: string;
  private readonly tree: Tree;
  private depth = 0;

  constructor(text: string, tree: Tree) {
    this.text = text;
    this.tree = tree;
  }

  read(): Parsed {
    const { text, tree } = this;
    try {
      const error = this.firstError();
      if (error) return { text, tree, diagnostics: [error] };
      const top = parts(tree.topNode);
      if (top.length === 0) this.fail('syntax.empty', { from: 0, to: text.length });
      if (top.length > 1) this.fail('syntax.unexpected', top[1]!, { found: this.slice(top[1]!) });
      return { text, tree, expression: this.expression(top[0]!), diagnostics: [] };
    } catch (e) {
      if (e instanceof Unreadable) return { text, tree, diagnostics: [e.diagnostic] };
      throw e;
    }
  }

  readTests(): ParsedTests {
    try {
      const error = this.firstError();
      if (error) return { tests: [], negated: false, diagnostics: [error] };
      return { ...this.unaryTests(this.tree.topNode), diagnostics: [] };
    } catch (e) {
      if (e instanceof Unreadable) return { tests: [], negated: false, diagnostics: [e.diagnostic] };
      throw e;
    }
  }

  /** The first place at which the grammar gave up, in words. */
  private firstError(): Diagnostic | undefined {
    if (this.text.trim() === '') return diagnostic('syntax.empty', { from: 0, to: this.text.length });
    let found: Diagnostic | undefined;
    this.tree.iterate({
      enter: (n) => {
        if (found) return false;
        if (!n.type.isError) return true;
        const at = { from: n.from, to: n.to };
        if (/^\s*"/.test(this.text.slice(n.from)) && !/^\s*"(?:[^"\\]|\\.)*"/s.test(this.text.slice(n.from)))
          found = diagnostic('syntax.string', { from: n.from, to: this.text.length });
        else if (n.from < n.to) found = diagnostic('syntax.unexpected', at, { found: this.text.slice(n.from, n.to) });
        else found = diagnostic('syntax.incomplete', at);
        return false;
      },
    });
    return found;
  }

  private fail(code: DiagnosticCode, range: TextRange, data: Record<string, string | number> = {}): never {
    throw new Unreadable(diagnostic(code, { from: range.from, to: range.to }, data));
  }

  private slice(n: TextRange): string {
    return this.text.slice(n.from, n.to);
  }

  private expression(n: SyntaxNode): Expression {
    if (++this.depth > formulaLimits.depth) this.fail('syntax.too-deep', n, { limit: formulaLimits.depth });
    const read = readers[n.name];
    if (!read) this.fail('syntax.unsupported', n, { what: this.slice(n) });
    const result = read.call(this, n);
    this.depth--;
    return result;
  }

  literal(n: SyntaxNode): Expression {
    const range = rangeOf(n);
    switch (n.name) {
      case 'null':
        return { kind: 'literal', range, value: null };
      case 'BooleanLiteral':
        return { kind: 'literal', range, value: this.slice(n) === 'true' };
      case 'StringLiteral':
        return { kind: 'literal', range, value: unescapeText(this.slice(n)) };
      default:
        return this.number(n);
    }
  }

  private number(n: SyntaxNode): Expression {
    const source = this.slice(n);
    const negative = source.startsWith('-');
    const value = parseNumber((negative ? source.slice(1) : source).trim());
    if (value === null) this.fail('syntax.number', n, { found: source });
    return { kind: 'literal', range: rangeOf(n), value: negative ? negate(value) : value };
  }

  name(n: SyntaxNode): Expression {
    return { kind: 'name', range: rangeOf(n), name: spaced(this.slice(n)) };
  }

  parenthesized(n: SyntaxNode): Expression {
    return this.expression(this.only(n));
  }

  private only(n: SyntaxNode): SyntaxNode {
    const inside = parts(n);
    if (inside.length !== 1) this.fail('syntax.incomplete', n);
    return inside[0]!;
  }

  path(n: SyntaxNode): Expression {
    const [object, name] = parts(n);
    if (!object || !name) this.fail('syntax.incomplete', n);
    return {
      kind: 'path',
      range: rangeOf(n),
      object: this.expression(object),
      name: spaced(this.slice(name)),
      nameRange: rangeOf(name),
    };
  }

  /** The sign of an operator that the language knows; the grammar takes some more. */
  private operator<K extends string>(
    n: SyntaxNode | undefined,
    known: Readonly<Record<K, unknown>>,
    of: SyntaxNode,
  ): K {
    if (!n) this.fail('syntax.incomplete', of);
    const found = this.slice(n);
    if (Object.hasOwn(known, found)) return found as K;
    const nearest = likelyOperators[found];
    this.fail('syntax.unexpected', n, nearest ? { found, nearest } : { found });
  }

  arithmetic(n: SyntaxNode): Expression {
    const all = parts(n);
    const at = all.findIndex((c) => c.name === 'ArithOp');
    const operator = all[at];
    if (!operator) this.fail('syntax.incomplete', n);
    if (at === 0) {
      if (this.slice(operator) !== '-' || all.length !== 2)
        this.fail('syntax.operator', operator, { found: this.slice(operator) });
      return { kind: 'negation', range: rangeOf(n), operand: this.expression(all[1]!) };
    }
    if (all.length !== 3) this.fail('syntax.incomplete', n);
    return {
      kind: 'arithmetic',
      range: rangeOf(n),
      operator: this.operator<ArithmeticOperator>(operator, arithmetic, n),
      operatorRange: rangeOf(operator),
      left: this.expression(all[0]!),
      right: this.expression(all[2]!),
    };
  }

  comparison(n: SyntaxNode): Expression {
    const all = parts(n, ['between', 'in', 'and']);
    const operator = all[1];
    if (!operator) this.fail('syntax.incomplete', n);
    if (operator.name === 'between') {
      const [operand, , low, , high] = all;
      if (!operand || !low || !high) this.fail('syntax.incomplete', n);
      return {
        kind: 'between',
        range: rangeOf(n),
        operand: this.expression(operand),
        low: this.expression(low),
        high: this.expression(high),
      };
    }
    if (operator.name === 'in') {
      const tests = all.slice(2).flatMap((t) => (t.name === 'PositiveUnaryTests' ? parts(t) : [t]));
      return {
        kind: 'in',
        range: rangeOf(n),
        operand: this.expression(all[0]!),
        tests: tests.map((t) => this.unaryTest(t)),
      };
    }
    const [left, , right] = all;
    if (!left || !right) this.fail('syntax.incomplete', n);
    if (left.name === 'Comparison') this.fail('syntax.unexpected', operator, { found: this.slice(operator) });
    return {
      kind: 'comparison',
      range: rangeOf(n),
      operator: this.operator<ComparisonOperator>(operator, comparison, n),
      operatorRange: rangeOf(operator),
      left: this.expression(left),
      right: this.expression(right),
    };
  }

  private unaryTest(n: SyntaxNode): UnaryTest {
    const range = rangeOf(n);
    const inside = n.name === 'PositiveUnaryTest' || n.name === 'SimplePositiveUnaryTest' ? parts(n) : [n];
    const first = inside[0];
    if (!first) this.fail('syntax.incomplete', n);
    if (first.name === 'SimplePositiveUnaryTest') return this.unaryTest(first);
    if (first.name === 'Interval') return this.interval(first);
    if (first.name === 'CompareOp')
      return {
        kind: 'compare',
        range,
        operator: this.operator<ComparisonOperator>(first, comparison, n),
        value: this.expression(inside[1] ?? this.fail('syntax.incomplete', n)),
      };
    return { kind: 'equal', range, value: this.expression(first) };
  }

  private interval(n: SyntaxNode): UnaryTest {
    const [low, high] = parts(n);
    if (!low || !high) this.fail('syntax.incomplete', n);
    const source = this.slice(n);
    return {
      kind: 'interval',
      range: rangeOf(n),
      low: this.expression(low),
      high: this.expression(high),
      lowIncluded: source.startsWith('['),
      highIncluded: source.endsWith(']'),
    };
  }

  junction(n: SyntaxNode): Expression {
    const [left, right] = parts(n);
    if (!left || !right) this.fail('syntax.incomplete', n);
    const kind = n.name === 'Conjunction' ? 'and' : 'or';
    return { kind, range: rangeOf(n), left: this.expression(left), right: this.expression(right) };
  }

  conditional(n: SyntaxNode): Expression {
    const [condition, then, otherwise] = parts(n);
    if (!condition || !then || !otherwise) this.fail('syntax.incomplete', n);
    return {
      kind: 'if',
      range: rangeOf(n),
      condition: this.expression(condition),
      then: this.expression(then),
      otherwise: this.expression(otherwise),
    };
  }

  call(n: SyntaxNode): Expression {
    const [callee, parameters] = parts(n);
    if (!callee) this.fail('syntax.incomplete', n);
    const named = callee.name === 'VariableName' || callee.name === 'SpecialFunctionName';
    const base = {
      kind: 'call',
      range: rangeOf(n),
      name: named ? spaced(this.slice(callee)) : '',
      nameRange: rangeOf(callee),
      ...(named ? {} : { callee: this.expression(callee) }),
    } as const;
    if (parameters?.name === 'NamedParameters') {
      const pairs = parts(parameters).map((p) => parts(p));
      return {
        ...base,
        names: pairs.map(([name]) => spaced(this.slice(name!))),
        arguments: pairs.map(([name, value]) => this.expression(value ?? this.fail('syntax.incomplete', name!))),
      };
    }
    return { ...base, arguments: parameters ? parts(parameters).map((a) => this.expression(a)) : [] };
  }

  /** `date("…")` and the like, or `@"…"`. */
  temporal(n: SyntaxNode): Expression {
    const [first, parameters] = parts(n);
    if (!first) this.fail('syntax.incomplete', n);
    if (first.name !== 'AtLiteral')
      return {
        kind: 'call',
        range: rangeOf(n),
        name: spaced(this.slice(first)),
        nameRange: rangeOf(first),
        ...(parameters?.name === 'NamedParameters'
          ? { names: parts(parameters).map((p) => spaced(this.slice(parts(p)[0]!))) }
          : {}),
        arguments: parameters
          ? parts(parameters).map((a) => this.expression(a.name === 'NamedParameter' ? parts(a)[1]! : a))
          : [],
      };
    const text = parts(first)[0];
    const value = text ? parseTemporal(unescapeText(this.slice(text))) : null;
    if (value === null) this.fail('syntax.temporal', n, { found: this.slice(n) });
    return { kind: 'literal', range: rangeOf(n), value };
  }

  private iterators(n: SyntaxNode): Iterator[] {
    return parts(n).map((one) => {
      const [name, domain] = parts(one);
      if (!name || !domain) this.fail('syntax.incomplete', one);
      const inner = domain.name === 'IterationContext' ? parts(domain) : [domain];
      const [from, to] = inner;
      if (!from) this.fail('syntax.incomplete', domain);
      return {
        name: spaced(this.slice(name)),
        domain: this.expression(from),
        ...(to ? { end: this.expression(to) } : {}),
      };
    });
  }

  loop(n: SyntaxNode): Expression {
    const [iterators, body] = parts(n);
    if (!iterators || !body) this.fail('syntax.incomplete', n);
    const kind = n.name === 'ForExpression' ? 'for' : this.slice(n).startsWith('some') ? 'some' : 'every';
    return { kind, range: rangeOf(n), iterators: this.iterators(iterators), body: this.expression(body) };
  }

  filter(n: SyntaxNode): Expression {
    const [object, condition] = parts(n);
    if (!object || !condition) this.fail('syntax.incomplete', n);
    return {
      kind: 'filter',
      range: rangeOf(n),
      object: this.expression(object),
      condition: this.expression(condition),
    };
  }

  context(n: SyntaxNode): Expression {
    const entries = parts(n).map((entry) => {
      const [key, value] = parts(entry);
      if (!key || !value) this.fail('syntax.incomplete', entry);
      const text = this.slice(key);
      const name = text.startsWith('"') ? unescapeText(text) : spaced(text);
      return { key: name, keyRange: rangeOf(key), value: this.expression(value) };
    });
    return { kind: 'context', range: rangeOf(n), entries };
  }

  definition(n: SyntaxNode): Expression {
    const all = parts(n);
    const body = all.at(-1);
    if (body?.name !== 'FunctionBody') this.fail('syntax.incomplete', n);
    const formal = all[0]?.name === 'FormalParameters' ? parts(all[0]) : [];
    const inside = parts(body)[0];
    if (!inside || this.slice(body).startsWith('external'))
      this.fail('syntax.unsupported', n, { what: 'An external function' });
    const parameters = formal.map((p) => spaced(this.slice(parts(p)[0] ?? p)));
    return { kind: 'function', range: rangeOf(n), parameters, body: this.expression(inside) };
  }

  instance(n: SyntaxNode): Expression {
    const [operand, type] = parts(n);
    if (!operand || !type) this.fail('syntax.incomplete', n);
    return {
      kind: 'instance of',
      range: rangeOf(n),
      operand: this.expression(operand),
      type: spaced(this.slice(type)),
    };
  }

  /** `[1..5]` or `(< 5)` where a value stands: a range. */
  standingTest(n: SyntaxNode): Expression {
    const test = this.unaryTest(n);
    const range = rangeOf(n);
    const open: Expression = { kind: 'literal', range, value: null };
    if (test.kind === 'interval') return { ...test, kind: 'range' };
    if (test.kind === 'equal') return test.value;
    const included = test.operator.endsWith('=');
    if (test.operator === '=' || test.operator === '!=') this.fail('syntax.unexpected', n, { found: test.operator });
    const below = test.operator.startsWith('<');
    return {
      kind: 'range',
      range,
      low: below ? open : test.value,
      high: below ? test.value : open,
      lowIncluded: !below && included,
      highIncluded: below && included,
    };
  }

  range(n: SyntaxNode): Expression {
    const test = this.interval(n);
    if (test.kind !== 'interval') this.fail('syntax.incomplete', n);
    const { low, high, lowIncluded, highIncluded, range } = test;
    return { kind: 'range', range, low, high, lowIncluded, highIncluded };
  }

  /** All tests of a unary-tests text; `negated` where the whole stands in `not(...)`. */
  unaryTests(top: SyntaxNode): { tests: readonly UnaryTest[]; negated: boolean } {
    const all = parts(top);
    if (all[0]?.name === 'Wildcard') return { tests: [], negated: false };
    const lists = all.filter((c) => c.name === 'PositiveUnaryTests');
    const tests = lists.flatMap((list) => parts(list)).map((t) => this.unaryTest(t));
    return { tests, negated: /^\s*not\b/.test(this.text) && top.firstChild?.name === 'not' };
  }

  list(n: SyntaxNode): Expression {
    return { kind: 'list', range: rangeOf(n), items: parts(n).map((item) => this.expression(item)) };
  }
}

type Read = (this: Reader, n: SyntaxNode) => Expression;

const readers: Readonly<Record<string, Read>> = Object.assign(Object.create(null) as Record<string, Read>, {
  null: Reader.prototype.literal,
  BooleanLiteral: Reader.prototype.literal,
  StringLiteral: Reader.prototype.literal,
  NumericLiteral: Reader.prototype.literal,
  VariableName: Reader.prototype.name,
  ParenthesizedExpression: Reader.prototype.parenthesized,
  PathExpression: Reader.prototype.path,
  ArithmeticExpression: Reader.prototype.arithmetic,
  Comparison: Reader.prototype.comparison,
  Conjunction: Reader.prototype.junction,
  Disjunction: Reader.prototype.junction,
  IfExpression: Reader.prototype.conditional,
  FunctionInvocation: Reader.prototype.call,
  List: Reader.prototype.list,
  '?': Reader.prototype.name,
  DateTimeLiteral: Reader.prototype.temporal,
  ForExpression: Reader.prototype.loop,
  QuantifiedExpression: Reader.prototype.loop,
  FilterExpression: Reader.prototype.filter,
  Context: Reader.prototype.context,
  FunctionDefinition: Reader.prototype.definition,
  InstanceOfExpression: Reader.prototype.instance,
  Interval: Reader.prototype.range,
  SimplePositiveUnaryTest: Reader.prototype.standingTest,
});

/** The meaningful children of a node: without brackets, commas, comments and key words, save those asked for. */
function parts(n: SyntaxNode, keep: readonly string[] = []): SyntaxNode[] {
  const found: SyntaxNode[] = [];
  for (let c = n.firstChild; c; c = c.nextSibling) {
    const named = /^[A-Z?]/.test(c.name) || c.name === 'null';
    if ((named && !c.name.endsWith('Comment')) || keep.includes(c.name)) found.push(c);
  }
  return found;
}

/** Signs of other languages, with the one that FEEL has. */
const likelyOperators: Readonly<Record<string, string>> = { '^': '**', '==': '=', '<>': '!=' };

function rangeOf(n: TextRange): TextRange {
  return { from: n.from, to: n.to };
}

function spaced(name: string): string {
  return name.trim().replace(/\s+/g, ' ');
}

/**
 * The grammar: what binds what (precedence by DMN 1.3, clause 10.3.1.2, FEEL's rules in their order), which words make a
 * name, and what is said of a text that is no formula.
 */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { runsOf } from '../../testing/runs.ts';
import { KnownNames } from './known-names.ts';
import { createParser } from './parse.ts';

const { parse, parseTests } = createParser(
  KnownNames.nested({ 'date and time': true, 'a-b': true, o: { 'p+q': true, 'for sale': true } }),
);

/** A tree without its ranges. */
function bare(e: unknown): unknown {
  if (Array.isArray(e)) return e.map(bare);
  if (typeof e !== 'object' || e === null) return e;
  return Object.fromEntries(Object.entries(e).flatMap(([k, v]) => (/^range$|Range$/.test(k) ? [] : [[k, bare(v)]])));
}
const treeOf = (text: string): unknown => {
  const { expression, diagnostics } = parse(text);
  expect([text, diagnostics]).toEqual([text, []]);
  return bare(expression);
};

/** A text of the language, as it is written with brackets around all that is no single word, or around what needs them. */
interface Written {
  /** The rule that it is made by: those that bind more have higher ones. */
  readonly level: number;
  write(full: boolean): string;
}
const [whole, or, and, comparing, sum, product, power, negation, instance, followed, atom] = Array.from({ length: 11 }, (_, i) => i) as [number, number, number, number, number, number, number, number, number, number, number]; // prettier-ignore

const within = (w: Written, least: number, full: boolean): string =>
  w.level < least || (full && w.level < atom) ? `(${w.write(full)})` : w.write(full);
const made = (level: number, write: (full: boolean, as: (w: Written, least: number) => string) => string): Written => ({
  level,
  write: (full) => write(full, (w, least) => within(w, least, full)),
});
const pick = fc.constantFrom;

const texts = fc.letrec<{ any: Written; test: Written }>((tie) => {
  const any = tie('any');
  const two = fc.tuple(any, any);
  const infix = (level: number, signs: readonly string[], right = level + 1) =>
    fc
      .tuple(any, pick(...signs), any)
      .map(([a, sign, b]) => made(level, (_, as) => `${as(a, level)} ${sign} ${as(b, right)}`));
  const comparison = fc.tuple(any, pick('=', '!=', '<', '<=', '>', '>='), any);
  // With its brackets turned about a range is bracketed where more could follow: no operator takes one.
  const range = fc
    .tuple(pick('[', '(', ']'), any, any, pick(']', ')', '['))
    .map(([open, a, b, close]) =>
      made(open === ']' || close === '[' ? whole : atom, (_, as) => `${open}${as(a, sum)}..${as(b, sum)}${close}`),
    );
  return {
    test: fc.oneof(
      { depthSize: 'small' },
      range,
      fc.tuple(pick('<', '>=', '='), any).map(([sign, a]) => made(whole, (_, as) => `${sign} ${as(a, sum)}`)),
      any.map((a) => made(sum, (_, as) => as(a, sum))),
    ),
    any: fc.oneof(
      { depthSize: 'small', withCrossShrink: true },
      pick('a', 'Employee count', 'a-b', '?', '1', '2.5', '"x, (y"', 'true', 'null', '@"2026-05-03"', '[]', '{}').map(
        (word) => made(atom, () => word),
      ),
      infix(or, ['or']),
      infix(and, ['and']),
      comparison.map(([a, sign, b]) => made(comparing, (_, as) => `${as(a, sum)} ${sign} ${as(b, sum)}`)),
      infix(sum, ['+', '-']),
      infix(product, ['*', '/']),
      infix(power, ['**']),
      any.map((a) => made(negation, (_, as) => `- ${as(a, /^[-\d]/.test(a.write(false)) ? atom : negation)}`)),
      any.map((a) => made(instance, (_, as) => `${as(a, followed)} instance of list<number>`)),
      any.map((a) => made(followed, (_, as) => `${as(a, followed)}.First name`)),
      two.map(([a, b]) => made(followed, (_, as) => `${as(a, followed)}[${as(b, or)}]`)),
      two.map(([a, b]) => made(atom, (_, as) => `date and time(${as(a, or)}, ${as(b, or)})`)),
      two.map(([a, b]) => made(atom, (_, as) => `f(x: ${as(a, or)}, y z: ${as(b, or)})`)),
      fc
        .tuple(any, any, any)
        .map(([a, b, c]) => made(comparing, (_, as) => `${as(a, sum)} between ${as(b, sum)} and ${as(c, sum)}`)),
      fc.tuple(any, tie('test')).map(([a, t]) => made(comparing, (full, as) => `${as(a, sum)} in ${t.write(full)}`)),
      fc
        .tuple(any, tie('test'), tie('test'))
        .map(([a, t, u]) => made(comparing, (full, as) => `${as(a, sum)} in (${t.write(full)}, ${u.write(full)})`)),
      fc
        .tuple(any, any, any)
        .map(([a, b, c]) => made(whole, (_, as) => `if ${as(a, whole)} then ${as(b, whole)} else ${as(c, whole)}`)),
      two.map(([a, b]) => made(whole, (_, as) => `for x in ${as(a, or)}, y in 1..${as(b, or)} return ${as(a, whole)}`)),
      two.map(([a, b]) => made(whole, (_, as) => `some x in ${as(a, or)} satisfies ${as(b, whole)}`)),
      any.map((a) => made(whole, (_, as) => `function(x: number, y) ${as(a, whole)}`)),
      two.map(([a, b]) => made(atom, (_, as) => `[${as(a, or)}, ${as(b, or)}]`)),
      two.map(([a, b]) => made(atom, (_, as) => `{k: ${as(a, or)}, "q r": ${as(b, or)}}`)),
      range,
    ),
  };
});

it('brackets that the precedence of FEEL makes needless change nothing', () => {
  fc.assert(
    fc.property(texts.any, (w) => {
      fc.pre(w.write(true).length < 2_000);
      expect(treeOf(w.write(false))).toEqual(treeOf(w.write(true)));
    }),
    { numRuns: runsOf(2_000) },
  );
});

describe('what binds what', () => {
  it.each([
    ['a in [1..2] and b', '(a in [1..2]) and b'],
    ['a in < 5 or b', '(a in < 5) or b'],
    ['a in (1, 2) and b', '(a in (1, 2)) and b'],
    ['a in (b + c) * d', 'a in ((b + c) * d)'],
    ['a in b + 1', 'a in (b + 1)'],
    ['not(a) and b', '(not(a)) and b'],
    ['-a ** 2', '(-a) ** 2'],
    ['2 ** 3 ** 2', '(2 ** 3) ** 2'],
    ['a + b instance of number', 'a + (b instance of number)'],
    ['a between 1 and 2 and b', '(a between 1 and 2) and b'],
    ['[1..2[', '[1..2)'],
    [']1..x[1][', '(1..x[1])'],
    ['[[1..2[, 3]', '[[1..2), 3]'],
    ['1 + if a then b else c + d', '1 + (if a then b else (c + d))'],
  ])('%s is %s', (text, same) => expect(treeOf(text)).toEqual(treeOf(same)));
});

describe('names', () => {
  it.each([
    ['Employee   count', { kind: 'name', name: 'Employee count' }],
    ['Level 2nd of three', { kind: 'name', name: 'Level 2nd of three' }],
    ['日本 語', { kind: 'name', name: '日本 語' }],
    ['a-b', { kind: 'name', name: 'a-b' }],
    ['a - b', treeOf('(a) - (b)')],
    ['date and time', { kind: 'name', name: 'date and time' }],
    ['Due date and time', treeOf('(Due date) and (time)')],
    ['o.p+q', { kind: 'path', object: { kind: 'name', name: 'o' }, name: 'p+q' }],
    ['o.for sale', { kind: 'path', object: { kind: 'name', name: 'o' }, name: 'for sale' }],
    ['{a+b: 1}.a+b', { ...(treeOf('{a+b: 1}.x') as object), name: 'a+b' }],
  ])('%s', (text, tree) => expect(treeOf(text)).toEqual(tree));
});

describe('what is no formula is told at its place', () => {
  it.each([
    ['', 'The formula is empty.', 0, 0],
    [' // nothing', 'The formula is empty.', 0, 11],
    ['a and ', 'A value is missing here.', 6, 6],
    ['f(a, )', 'A value is missing here.', 5, 5],
    ['(a + b', ') is missing here.', 6, 6],
    ['if a', 'then is missing here.', 4, 4],
    ['{a: 1, }', 'A name is missing here.', 7, 7],
    ['a instance of', 'A type is missing here.', 13, 13],
    ['o.', 'A name is missing here.', 2, 2],
    ['a )', ') does not belong here.', 2, 3],
    ['(a, b)', ', does not belong here.', 2, 3],
    ['a = b = c', '= does not belong here.', 6, 7],
    ['a in b in c', 'in does not belong here.', 7, 9],
    ['Amount <> 6', '<> does not belong here. Did you mean !=?', 7, 9],
    ['a == b', '== does not belong here. Did you mean =?', 2, 4],
    ['a && b', '&& does not belong here. Did you mean and?', 2, 4],
    ['a and * b', 'The operator * stands without a value before it.', 6, 7],
    ['+ 1', 'The operator + stands without a value before it.', 0, 1],
    ['if a else b', 'else does not belong here. Did you mean then?', 5, 9],
    ['some x in a return x', 'return does not belong here. Did you mean satisfies?', 12, 18],
    ['1 2', '2 does not belong here.', 2, 3],
    ['a\nb', 'b does not belong here.', 2, 3],
    ['a + "b', 'The text is not closed with a quotation mark.', 4, 6],
    ['a /* b', 'The comment is not closed with */.', 2, 6],
    ['@"soon"', '@"soon" is not a date, time or duration.', 0, 7],
    ['@ 5', '5 does not belong here.', 2, 3],
    ['function(a) external {x: 1}', 'An external function cannot be used in a rule.', 12, 20],
    ['a instance of list<number', 'list does not belong here.', 14, 18],
    [`${'('.repeat(150)}a${')'.repeat(150)}`, undefined, 0, 0],
    [`${'-'.repeat(120)} a`, undefined, 0, 0],
    [`${'if a then b else '.repeat(220)}c`, 'The formula is nested deeper than 200 levels.', 3386, 3387],
    [`${'(1 + '.repeat(150)}1${' + 1 + 1)'.repeat(150)}`, 'The formula is nested deeper than 200 levels.', 331, 1498],
  ])('%.40s', (text, message, from, to) => {
    const { expression, diagnostics } = parse(text);
    expect([expression === undefined, diagnostics.map((d) => [d.message, d.range.from, d.range.to])]).toEqual(
      message === undefined ? [false, []] : [true, [[message, from, to]]],
    );
  });
});

describe('unary tests', () => {
  it.each([
    ['-', [], false],
    ['not(1, > 5)', ['equal', 'compare'], true],
    ['not(1), 2', ['equal', 'equal'], false],
    ['not(1) and a', ['equal'], false],
    ['[1..2], < 5, "x", ? > 3 and ? < 9', ['interval', 'compare', 'equal', 'equal'], false],
    ['not(negand: true)', ['equal'], false],
    ['((1..2))', ['interval'], false],
    ['(< 5)', ['equal'], false],
  ])('%s', (text, kinds, negated) => {
    const found = parseTests(text);
    expect([found.tests.map((t) => t.kind), found.negated, found.diagnostics]).toEqual([kinds, negated, []]);
  });

  it.each(['', '-, 1', '1,', 'not(1', '(1, 2)', '> 5 and a'])('%s is none', (text) =>
    expect(parseTests(text).diagnostics).toHaveLength(1),
  );
});

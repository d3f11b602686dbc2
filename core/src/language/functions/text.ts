import { booleanType, listOf, numberType, textType } from '../types/types.ts';
import { toLowerCase, toUpperCase } from '../../values/unicode-case.ts';
import { isList, type Value } from '../../values/value.ts';
import type { Pattern } from '../types/host.ts';
import type { LanguageFunction, Parameter } from './function.ts';

const string: Parameter = { name: 'string', type: textType };
const match: Parameter = { name: 'match', type: textType };
const flags: Parameter = { name: 'flags', type: textType, optional: true };
const longest = 100_000;

/** Texts are counted in code points, as DMN has it: an emoji is one. Most texts hold no such and are cut as they are. */
const hasPairs = (t: string): boolean => /[\ud800-\udbff][\udc00-\udfff]/.test(t);
const lengthOf = (t: string): number => (hasPairs(t) ? [...t].length : t.length);

function onTexts(
  name: string,
  parameters: readonly Parameter[],
  result: LanguageFunction['result'],
  help: string,
  examples: LanguageFunction['examples'],
  compute: (...texts: string[]) => Value,
  work?: LanguageFunction['work'],
): LanguageFunction {
  return {
    name,
    parameters,
    result,
    help,
    examples,
    ...(work === undefined ? {} : { work }),
    evaluate: (args) => (args.every((g) => typeof g === 'string') ? compute(...(args as string[])) : null),
  };
}

function substring([text, start, length]: readonly Value[]): Value {
  if (typeof text !== 'string' || typeof start !== 'number' || start === 0 || !Number.isInteger(start)) return null;
  if (length !== undefined && length !== null && (typeof length !== 'number' || length < 1)) return null;
  const points = hasPairs(text) ? [...text] : undefined;
  const count = points?.length ?? text.length;
  const from = start > 0 ? start - 1 : count + start;
  if (from < 0 || from >= count + (start > 0 ? 1 : 0)) return null;
  const end = typeof length === 'number' ? from + Math.floor(length) : count;
  return points ? points.slice(from, end).join('') : text.slice(from, end);
}

/** Steps for functions that look at each character. */
export const textWork = (args: readonly Value[]): number =>
  args.reduce<number>((sum, v) => sum + (typeof v === 'string' ? 3 * v.length : 0), 1);

/**
 * A function of a regular expression. Its work grows with the text and with the size of the compiled expression; both
 * are charged before it runs.
 */
const withPattern =
  (
    use: (pattern: Pattern, text: string, args: readonly Value[]) => Value,
    flagsAt: number,
  ): LanguageFunction['evaluate'] =>
  (args, host, meter) => {
    const [text, source] = args;
    const chosen = args[flagsAt] ?? '';
    if (typeof text !== 'string' || typeof source !== 'string' || typeof chosen !== 'string') return null;
    // Compiling is charged each time, though hosts keep what they compiled: the count must not hang on what ran before.
    meter.spend(compilePrice * source.length);
    const pattern = host.pattern?.(source, chosen);
    if (!pattern) return null;
    meter.spend(compilePrice * pattern.size + text.length + Math.ceil((text.length * pattern.size) / patternPace));
    return use(pattern, text, args);
  };

/** Characters by instructions of the expression that one step pays for. */
const patternPace = 4;
const compilePrice = 20;

export const textFunctions: readonly LanguageFunction[] = [
  {
    name: 'substring',
    parameters: [
      string,
      { name: 'start position', type: numberType },
      { name: 'length', type: numberType, optional: true },
    ],
    result: textType,
    help: 'Part of a text from a position, counted from 1, or from the end where it is negative.',
    examples: [
      ['substring("foobar", 3)', 'obar'],
      ['substring("foobar", 3, 3)', 'oba'],
      ['substring("foobar", -2, 1)', 'a'],
      ['substring("foobar", 0)', null],
    ],
    evaluate: substring,
  },
  onTexts(
    'string length',
    [string],
    numberType,
    'The number of characters.',
    [
      ['string length("foo")', 3],
      ['string length("🍇")', 1],
    ],
    (t) => lengthOf(t),
  ),
  onTexts(
    'upper case',
    [string],
    textType,
    'All in capitals.',
    [['upper case("aBc4")', 'ABC4']],
    (t) => toUpperCase(t),
    textWork,
  ),
  onTexts(
    'lower case',
    [string],
    textType,
    'All in small letters.',
    [['lower case("aBc4")', 'abc4']],
    (t) => toLowerCase(t),
    textWork,
  ),
  onTexts(
    'substring before',
    [string, match],
    textType,
    'What stands before the first occurrence; an empty text where there is none.',
    [
      ['substring before("foobar", "bar")', 'foo'],
      ['substring before("foobar", "xyz")', ''],
    ],
    (t, m) => t.slice(0, Math.max(0, t.indexOf(m))),
  ),
  onTexts(
    'substring after',
    [string, match],
    textType,
    'What stands after the first occurrence; an empty text where there is none.',
    [
      ['substring after("foobar", "ob")', 'ar'],
      ['substring after("", "a")', ''],
      ['substring after("foo", "")', 'foo'],
    ],
    (t, m) => (t.includes(m) ? t.slice(t.indexOf(m) + m.length) : ''),
  ),
  onTexts(
    'contains',
    [string, match],
    booleanType,
    'Whether the one text holds the other.',
    [
      ['contains("foobar", "of")', false],
      ['contains("foobar", "ob")', true],
    ],
    (t, m) => t.includes(m),
  ),
  onTexts(
    'starts with',
    [string, match],
    booleanType,
    'Whether the one text begins with the other.',
    [['starts with("foobar", "fo")', true]],
    (t, m) => t.startsWith(m),
  ),
  onTexts(
    'ends with',
    [string, match],
    booleanType,
    'Whether the one text ends with the other.',
    [['ends with("foobar", "r")', true]],
    (t, m) => t.endsWith(m),
  ),
  {
    name: 'matches',
    parameters: [{ name: 'input', type: textType }, { name: 'pattern', type: textType }, flags],
    result: booleanType,
    help: 'Whether a regular expression (RE2) occurs in the text; flags i, s, m.',
    examples: [
      ['matches("foobar", "^fo*b")', true],
      ['matches("FOO", "foo", "i")', true],
      ['matches("a", "(")', null],
    ],
    needs: 'pattern',
    work: textWork,
    evaluate: withPattern((p, text) => p.test(text), 2),
  },
  {
    name: 'replace',
    parameters: [
      { name: 'input', type: textType },
      { name: 'pattern', type: textType },
      { name: 'replacement', type: textType },
      flags,
    ],
    result: textType,
    help: 'All occurrences of a regular expression (RE2) replaced; $1 is the first group.',
    examples: [
      ['replace("abcd", "(ab)|(a)", "[1=$1]")', '[1=ab]cd'],
      ['replace("aAa", "A", "-", "i")', '---'],
    ],
    needs: 'pattern',
    work: textWork,
    evaluate: withPattern(
      (p, text, [, , replacement]) => (typeof replacement === 'string' ? p.replace(text, replacement, longest) : null),
      3,
    ),
  },
  {
    name: 'split',
    parameters: [string, { name: 'delimiter', type: textType }],
    result: listOf(textType),
    help: 'The parts between the occurrences of a regular expression (RE2).',
    examples: [
      ['split("John Doe", "\\\\s")', ['John', 'Doe']],
      ['split("a;b;c;;", ";")', ['a', 'b', 'c', '', '']],
    ],
    needs: 'pattern',
    work: textWork,
    evaluate: withPattern((p, text) => p.split(text), 9),
  },
  {
    name: 'string join',
    parameters: [
      { name: 'list', type: listOf(textType) },
      { name: 'delimiter', type: textType, optional: true },
    ],
    result: textType,
    help: 'The texts of a list put together; blanks are left out.',
    examples: [
      ['string join(["a", "b", "c"], "_and_")', 'a_and_b_and_c'],
      ['string join(["a", null, "c"])', 'ac'],
      ['string join([], "X")', ''],
    ],
    evaluate([list, delimiter]) {
      const items = (isList(list ?? null) ? (list as readonly Value[]) : [list ?? null]).filter((i) => i !== null);
      if (!items.every((i) => typeof i === 'string')) return null;
      const between = typeof delimiter === 'string' ? delimiter : '';
      const length = items.reduce((sum, i) => sum + i.length + between.length, 0);
      return length - between.length > longest ? null : items.join(between);
    },
  },
];

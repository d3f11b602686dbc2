/** Formulas that ask for too much, each in its own way: for the tests, and for the clock of the benchmark. */
import { createOpenScope } from '../language/expression/scope.ts';
import type { Value } from '../values/value.ts';

/** A number, a long text, many texts and many numbers. */
export const nastyScope = createOpenScope(['A', 'T', 'L', 'N']);
export const nastyRecord: readonly Value[] = [
  3,
  'ab é'.repeat(5_000),
  Array.from({ length: 20_000 }, (_, i) => `text number ${i}`),
  Array.from({ length: 20_000 }, (_, i) => ((i * 7) % 1_001) / 10),
];
export const many = (part: string, n: number, between: string): string => new Array<string>(n).fill(part).join(between);

/** What it is, the text, and the code of the diagnostic. */
export const beyondGrammar: readonly (readonly [what: string, text: string, code: string])[] = [
  ['6,000 brackets', `${'('.repeat(6_000)}1${')'.repeat(6_000)}`, 'syntax.too-deep'],
  ['brackets that never close', '['.repeat(20_000), 'syntax.too-deep'],
  ['contexts inside contexts', '{a:'.repeat(5_000), 'syntax.too-deep'],
  ['190 times or', many('A = 1', 191, ' or '), 'syntax.long-chain'],
  ['signs without end', `${'-'.repeat(19_000)}1`, 'syntax.long-chain'],
  ['9,000 additions', many('1', 9_000, '+'), 'syntax.long-chain'],
  ['words without end', 'a '.repeat(9_900), 'syntax.too-many-words'],
  ['if without end', 'if '.repeat(6_000), 'syntax.too-many-words'],
  ['a path without end', `A${'.b'.repeat(9_000)}`, 'syntax.too-many-words'],
  ['more characters than may be', 'A'.repeat(20_001), 'syntax.too-long'],
  ['a comment that is not closed', 'A /* and', 'syntax.comment'],
  ['a power with ^', 'A ^ 2', 'syntax.unexpected'],
  ['== for =', 'A == 2', 'syntax.unexpected'],
];

const big = '(for i in 1..100000 return i)';
const shared = '(for i in 1..30 return if i = 1 then [1] else [partial[-1], partial[-1]])[-1]';
const deep = '(for i in 1..600 return if i = 1 then [] else [partial[-1]])[-1]';

/** Whether the budget of steps stops it. */
export const costly: readonly (readonly [text: string, stopped: boolean])[] = [
  ['count(distinct values(L))', false],
  ['count(distinct values(for i in 1..60000 return "t" + string(i)))', false],
  ['count(union(L, L, N))', false],
  ['count(sort(L))', false],
  ['sum(N)', false],
  ['list contains(L, "text number 19999")', false],
  [`count(concatenate(${many(big, 150, ', ')}))`, true],
  [`for i in 1..5000 return concatenate(${big}, [i])`, true],
  ['for i in 1..100000 return exp(i/7)', true],
  ['for i in 1..100000 return log(i + 0.1)', true],
  ['for i in 1..1000000 return sqrt(i)', true],
  ['for i in 1..1000000 return 1.0000001 ** (i + 0.5)', true],
  ['for i in 1..1000000 return 1 / 7 / 3 / 11', true],
  ['for i in 1..1000000 return string length(T)', true],
  ['for i in 1..1000000 return substring(T, 2, 3)', true],
  ['for i in 1..1000 return upper case(T)', true],
  ['for i in 1..1000 return title case(T)', true],
  ['for i in 1..1000 return sum(N)', true],
  ['for x in L return index of(L, x)', true],
  ['for x in L return x in L', true],
  ['for x in N return N instance of list<number>', true],
  ['for i in 1..1000000 return phone("+35121000" + string(i), "PT")', true],
  ['for i in 1..1000000 return add working days(today(), 9999)', true],
  ['sort(N, function(x, y) x < y)', true],
  ['sort(for i in 1..200 return T + string(i))', true],
  ['replace(T, "", T)', false],
  ['replace(T, ".", "$0$0$0$0$0$0$0$0$0$0$0$0$0")', false],
  [`matches(T, "${'(a?b?){20}'.repeat(20)}x")`, true],
  ['for i in 1..1000 return matches(T, "z" + string(i))', true],
  ['for i in 1..100000, j in [] return 1', false],
  ['for i in 1..1000, j in 1..1000, k in [] return 1', true],
  ['for i in 1..1000, j in 1..1000, k in 1..1000 return 1', true],
  ['for i in 1..100000 return partial', true],
  [`count(flatten(${shared}))`, true],
  [`(${shared}) = (${shared})`, true],
  [`string(${shared})`, false],
  [`distinct values([${shared}, ${shared}])`, true],
  [`(${deep}) = (${deep})`, false],
  [`string length(string(${deep}))`, false],
  ['for i in 1..1000 return context merge(for x in 1..1000 return {a: x})', true],
  ['for i in 1E40..1E41 return i', false],
];

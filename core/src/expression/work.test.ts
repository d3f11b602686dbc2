/** No formula throws, hangs or fills the memory: what is too much is told before it runs, or stopped by a count of steps. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { FormulaMaker, pieces, randomBy } from '../testing/random-formulas.ts';
import { fullHost, sampleEnvironments, sampleNames, sampleScope } from '../testing/formula-scope.ts';
import { isOfType } from '../testing/type-of-value.ts';
import { Meter } from '../values/meter.ts';
import { identityOf, equalValues, valueToText, type Value } from '../values/value.ts';
import { createFormula } from './formula.ts';
import { createOpenScope } from './scope.ts';
import { createTemplate } from './template.ts';

const scope = createOpenScope(['A', 'T', 'L', 'N']);
const record: readonly Value[] = [
  3,
  'ab é'.repeat(5_000),
  Array.from({ length: 20_000 }, (_, i) => `text number ${i}`),
  Array.from({ length: 20_000 }, (_, i) => ((i * 7) % 1_001) / 10),
];
const many = (part: string, n: number, between: string): string => new Array<string>(n).fill(part).join(between);

describe('what is too much for the grammar is a diagnostic', () => {
  it.each<[string, string, string]>([
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
  ])('%s', (_, text, code) => {
    expect(createFormula(text, scope).diagnostics[0]?.code).toBe(code);
    expect(createTemplate(`x {${text}} y`, scope, true).diagnostics[0]?.code).toBeDefined();
    expect(scope.parser.parseTests(text).diagnostics.length).toBeGreaterThan(0);
  });

  it('150 parts are joined without complaint, and a sign of another language is told with ours', () => {
    expect(createFormula(many('A = 1', 150, ' or '), scope).diagnostics).toEqual([]);
    expect(createFormula('A ^ 2', scope).diagnostics[0]?.message).toBe('^ does not belong here. Did you mean **?');
    expect(createFormula('a'.repeat(9_000), scope).diagnostics[0]!.message.length).toBeLessThan(200);
  });
});

const big = '(for i in 1..100000 return i)';
const shared = '(for i in 1..30 return if i = 1 then [1] else [partial[-1], partial[-1]])[-1]';
const deep = '(for i in 1..600 return if i = 1 then [] else [partial[-1]])[-1]';

describe('work is charged by what is done', () => {
  it.each<[string, boolean]>([
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
  ])('%s', (text, stopped) => {
    const { evaluate, diagnostics } = createFormula(text, scope);
    expect(diagnostics).toEqual([]);
    const meter = new Meter();
    const v = evaluate!({ record, previous: [], host: fullHost, variables: [], meter });
    expect([meter.exhausted, stopped && v !== null]).toEqual([stopped, false]);
  });

  it('a replacement that grows beyond what a text may hold is blank, one that does not is whole', () => {
    const give = (text: string): Value =>
      createFormula(text, scope).evaluate!({ record: [1, 'a'.repeat(20_000)], previous: [], host: fullHost });
    expect(give('replace(T, "a", "123456")')).toBeNull();
    expect(give('string length(replace(T, "(a)", "$1\\\\$"))')).toBe(40_000);
  });

  it('values beyond what people read are cut in words', () => {
    let nested: Value = [];
    for (let i = 0; i < 5_000; i++) nested = [nested, nested];
    expect(valueToText(nested).length).toBeLessThanOrEqual(100_001);
  });
});

/** Random formulas of the language with all its functions: enough here for each run, more by `npm run bench`. */
const tries = 5_000;

it('random formulas never throw, and give what their types say', () => {
  const random = randomBy(20_261_125);
  const maker = new FormulaMaker(random, sampleNames);
  const wrong: string[] = [];
  let ran = 0;
  for (let i = 0; i < tries; i++) {
    const text = maker.make(undefined, 1 + Math.floor(random() * 5));
    const { evaluate, type, diagnostics } = createFormula(text, sampleScope);
    if (!evaluate) expect(diagnostics.length).toBeGreaterThan(0);
    else if (sampleEnvironments.some((env) => !isOfType(evaluate(env), type))) wrong.push(`${type.kind}: ${text}`);
    else ran++;
  }
  expect(wrong).toEqual([]);
  expect(ran).toBeGreaterThan(tries / 2);
});

it('whatever is typed is a diagnostic or a formula, as a formula, a template and a cell', () => {
  fc.assert(
    fc.property(fc.array(fc.constantFrom(...pieces), { maxLength: 25 }), (words) => {
      const text = words.join('');
      const { evaluate, diagnostics } = createFormula(text, sampleScope);
      if (evaluate) for (const env of sampleEnvironments) evaluate(env);
      else expect(diagnostics.length).toBeGreaterThan(0);
      createTemplate(text, sampleScope, true).evaluate?.(sampleEnvironments[0]!);
      sampleScope.parser.parseTests(text);
    }),
    { numRuns: 3_000 },
  );
});

it('two values have one identity exactly when they are equal', () => {
  const random = randomBy(7);
  const maker = new FormulaMaker(random);
  const values = Array.from({ length: 400 }, () => {
    const { evaluate } = createFormula(maker.make(undefined, 2), sampleScope);
    return evaluate?.(sampleEnvironments[0]!) ?? null;
  });
  for (const a of values)
    for (const b of values) {
      const [x, y] = [identityOf(a), identityOf(b)];
      expect(x !== undefined && x === y, `${valueToText(a, true)} and ${valueToText(b, true)}`).toBe(
        equalValues(a, b) === true,
      );
    }
});

/** No formula throws, hangs or fills the memory: what is too much is told before it runs, or stopped by a count of steps. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  beyondGrammar,
  costly,
  many,
  nastyRecord as record,
  nastyScope as scope,
} from '../../testing/nasty-formulas.ts';
import { FormulaMaker, pieces, randomBy } from '../../testing/random-formulas.ts';
import { fullHost, sampleEnvironments, sampleNames, sampleScope } from '../../testing/formula-scope.ts';
import { isOfType } from '../../testing/type-of-value.ts';
import { Exhausted, Meter, stepBudget } from '../../values/meter.ts';
import { identityOf, equalValues, valueToText, type Value } from '../../values/value.ts';
import { createFormula } from './formula.ts';
import { createTemplate } from './template.ts';
import { tokenize } from './tokens.ts';
import { runsOf } from '../../testing/runs.ts';

describe('what is too much for the grammar is a diagnostic', () => {
  it.each(beyondGrammar)('%s', (_, text, code) => {
    expect(createFormula(text, scope).diagnostics[0]?.code).toBe(code);
    expect(createTemplate(`x {${text}} y`, scope, true).diagnostics[0]?.code).toBeDefined();
    expect(scope.parser.parseTests(text).diagnostics.length).toBeGreaterThan(0);
  });

  it.each([
    ['quotation marks behind strokes', `"${'\\"'.repeat(9_900)}`, 'syntax.string'],
    ['quotation marks, one a line', '"\n'.repeat(9_900), 'syntax.string'],
    ['comments that nobody closes', '/* '.repeat(6_600), 'syntax.comment'],
  ])('%s are looked at once', (_, text, code) => {
    expect(tokenize(text)).toHaveLength(2);
    expect(createFormula(text, scope).diagnostics.map((d) => d.code)).toEqual([code]);
  });

  it('150 parts are joined without complaint, and a sign of another language is told with ours', () => {
    expect(createFormula(many('A = 1', 150, ' or '), scope).diagnostics).toEqual([]);
    expect(createFormula('A ^ 2', scope).diagnostics[0]?.message).toBe('^ does not belong here. Did you mean **?');
    expect(createFormula('a'.repeat(9_000), scope).diagnostics[0]!.message.length).toBeLessThan(200);
  });
});

describe('work is charged by what is done', () => {
  it.each(costly)('%s', (text, stopped) => {
    const { evaluate, diagnostics } = createFormula(text, scope);
    expect(diagnostics).toEqual([]);
    const meter = new Meter();
    const v = evaluate!({ record, previous: [], host: fullHost, variables: [], meter });
    expect([meter.exhausted !== undefined, stopped && v !== null]).toEqual([stopped, false]);
  });

  it('formulas of one settlement share what they may spend, and none has more than its own', () => {
    const meter = new Meter(stepBudget + 10);
    const run = (steps: number) => {
      meter.reset();
      meter.spend(steps);
    };
    expect(() => run(stepBudget + 1)).toThrow(Exhausted);
    run(6);
    expect(() => run(6)).toThrow(Exhausted);
    expect(() => run(1)).toThrow(Exhausted);
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

/** Random formulas of the language with all its functions: enough here for each run, more by `npm run soak`. */
const tries = runsOf(2_500);

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
    { numRuns: runsOf(1_500) },
  );
});

it('two values have one identity exactly when they are equal', () => {
  const random = randomBy(7);
  const maker = new FormulaMaker(random);
  const values = Array.from({ length: 400 }, () => {
    const { evaluate } = createFormula(maker.make(undefined, 2), sampleScope);
    return evaluate?.(sampleEnvironments[0]!) ?? null;
  });
  const identities = values.map((v) => identityOf(v));
  const wrong: string[] = [];
  values.forEach((a, i) =>
    values.forEach((b, k) => {
      const same = identities[i] !== undefined && identities[i] === identities[k];
      if (same !== (equalValues(a, b) === true)) wrong.push(`${valueToText(a, true)} and ${valueToText(b, true)}`);
    }),
  );
  expect(wrong).toEqual([]);
});

/** What is worked out in steps, or by a shorter way, is what the plain way gives. */
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { compileInSteps, compileProgram } from '../compile/program.ts';
import { type Program } from '../compile/compiled.ts';
import { settle } from '../settle/settle.ts';
import { emptySource } from '../records/record-source.ts';
import { randomRulebook, randomWrite } from '../testing/random-rulebooks.ts';
import { canonicalInSteps, canonicalJson, sameJson } from './canonical.ts';
import { ChangeCounter } from '../refactor/change-count.ts';
import { diffRulebooks } from '../refactor/diff.ts';
import type { Rulebook } from './document.ts';
import { runsOf } from '../testing/runs.ts';
import { inOneGo } from '../values/steps.ts';

const copy = <T>(v: T): T => JSON.parse(JSON.stringify(v)) as T;
const runs = { numRuns: runsOf(150) };

it('a rulebook compiled in steps settles every write alike', () => {
  fc.assert(
    fc.property(randomRulebook, randomWrite, (rulebook, write) => {
      const stepwise: Program = inOneGo(compileInSteps(copy(rulebook)));
      const plain = compileProgram(rulebook);
      expect(settle(stepwise, write, emptySource, { trace: true })).toEqual(
        settle(plain, write, emptySource, { trace: true }),
      );
      expect(stepwise.broken.map((r) => r.rule.key)).toEqual(plain.broken.map((r) => r.rule.key));
    }),
    runs,
  );
});

it('canonical JSON in steps is canonical JSON, and alike is what has the same', () => {
  const json = fc.jsonValue({ maxDepth: 6 });
  fc.assert(
    fc.property(json, json, (a, b) => {
      expect(inOneGo(canonicalInSteps(a))).toBe(canonicalJson(a));
      expect(sameJson(a, b)).toBe(canonicalJson(a) === canonicalJson(b));
      expect(sameJson(a, copy(a))).toBe(true);
    }),
    runs,
  );
});

it('as many changes are counted as are told', () => {
  fc.assert(
    fc.property(randomRulebook, randomRulebook, fc.integer({ min: 0, max: 3 }), (a, b, kept) => {
      const mixed: Rulebook = { ...b, rules: [...a.rules.slice(0, kept), ...b.rules.slice(kept)] };
      const counter = new ChangeCounter(a);
      for (const book of [mixed, a]) expect(counter.count(book)).toBe(diffRulebooks(a, book).length);
    }),
    runs,
  );
});

it.each<[string, unknown]>([
  ['nothing', null],
  ['no lists', {}],
  ['no record types', { recordTypes: [null, 'x', { key: 't', fields: 3 }], rules: [null], tables: [null] }],
  ['rows that are none', { recordTypes: [], rules: [], tables: [{ key: 't', name: 'T', rows: 'none' }] }],
])('a document of %s compiles in steps, and is told what is wrong', (_, document) => {
  const stepwise = inOneGo(compileInSteps(document as Rulebook));
  expect(stepwise.problems.length).toBeGreaterThan(0);
  expect(stepwise.problems).toEqual(compileProgram(document as Rulebook).problems);
});

/** Running only the tests that a change can touch gives what running all of them gives. */
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { compileProgram, recompileProgram } from '../compile/program.ts';
import type { Rule, RuleTest, Rulebook } from '../document/document.ts';
import { rulebookOf, sizeClass } from '../testing/customers.ts';
import { setTo } from '../testing/deals.ts';
import { randomRulebook, randomWrite } from '../testing/random-rulebooks.ts';
import { TestRunner } from './affected.ts';
import { runTests } from './run.ts';
import { runsOf } from '../testing/runs.ts';

const randomExpectation = fc.oneof(
  fc.constantFrom('micro', 'small', null).map((size) => ({ fields: { class: size }, verdict: 'saved' })),
  fc.nat(5).map((i) => ({ ran: [`r${i}`] })),
  fc.nat(5).map((i) => ({ didNotRun: [`r${i}`] })),
  fc.constantFrom([], ['Less.']).map((messages) => ({ messages })),
);
const randomWoken = fc.option(
  fc.nat(5).map((i) => [`r${i}`]),
  { nil: undefined },
);
const randomTest = fc.tuple(randomWrite, randomExpectation, randomWoken).map(([w, expected, woken]): RuleTest => ({
  key: 't',
  name: 'T',
  recordType: w.recordType,
  before: w.before,
  sent: w.sent,
  typed: w.typed,
  moment: w.moment,
  entryPoint: w.entryPoint,
  now: w.now,
  ...(woken ? { woken } : {}),
  expect: expected,
}));

const edits = ['exchange', 'remove', 'add', 'off', 'turn', 'zone', 'currency', 'type', 'fewer tests'] as const;

it('rules exchanged, taken out and put in, again and again', () => {
  fc.assert(
    fc.property(
      randomRulebook,
      randomRulebook,
      fc.array(randomTest, { minLength: 1, maxLength: 6 }),
      fc.array(fc.tuple(fc.nat(5), fc.constantFrom(...edits)), { maxLength: 5 }),
      (book, other, some, acts) => {
        let tests = some.map((t, i) => ({ ...t, key: `t${i}` }));
        const runner = new TestRunner();
        let program = compileProgram({ ...book, tests });
        runner.run(program, tests);
        for (const [at, what] of acts) {
          if (what === 'fewer tests') tests = tests.slice(1);
          program = recompileProgram(program, edited(program.rulebook, other, at, what));
          const told = runner.run(program, tests).map((r) => [r.test.key, r.failures]);
          expect(told).toEqual(runTests(program, tests).map((r) => [r.test.key, r.failures]));
        }
      },
    ),
    { numRuns: runsOf(150) },
  );
});

function edited(book: Rulebook, other: Rulebook, at: number, what: (typeof edits)[number]): Rulebook {
  if (what === 'zone') return { ...book, zone: at % 2 ? 'Asia/Tokyo' : 'Europe/Lisbon' };
  if (what === 'currency') return { ...book, currency: at % 2 ? 'SEK' : 'EUR' };
  if (what === 'type') {
    const [type] = book.recordTypes;
    const field = { key: `f${at}`, name: `F ${at}`, type: 'text' };
    const fields = type!.fields.some((f) => f.key === field.key) ? type!.fields.slice(0, -1) : [...type!.fields, field];
    return { ...book, recordTypes: [{ ...type!, fields }] };
  }
  const { rules } = book;
  const i = at % Math.max(1, rules.length);
  const given: Rule | undefined = other.rules[at % Math.max(1, other.rules.length)];
  if (what === 'add')
    return given ? { ...book, rules: [...rules, { ...given, key: `new-${rules.length}-${at}` }] } : book;
  if (rules.length === 0) return book;
  if (what === 'turn') return { ...book, rules: [...rules.slice(i), ...rules.slice(0, i)] };
  if (what === 'remove') return { ...book, rules: rules.toSpliced(i, 1) };
  if (what === 'off') return { ...book, rules: rules.with(i, { ...rules[i]!, on: !rules[i]!.on }) };
  return given ? { ...book, rules: rules.with(i, { ...given, key: rules[i]!.key }) } : book;
}

it('a rule that sleeps in a test does not run it again', () => {
  const area: Rule = {
    ...sizeClass,
    key: 'rank',
    wakesOn: ['area'],
    winner: 'rule',
    outcome: setTo('rank', '1'),
    kind: 'derive',
  };
  const test = (sent: RuleTest['sent'], key: string): RuleTest => ({
    key,
    name: key,
    recordType: 'customer',
    before: { data: { name: 'A' } },
    sent,
    moment: 'updating',
    entryPoint: 'api',
    now: '2026-05-04T09:00:00Z',
    expect: {},
  });
  const tests = [test({ count: 9 }, 'count'), test({ area: 2 }, 'area')];
  const runner = new TestRunner();
  const program = compileProgram(rulebookOf(sizeClass, area));
  runner.run(program, tests);
  const rules = [sizeClass, { ...area, outcome: setTo('rank', '2') }];
  const next = recompileProgram(program, { ...program.rulebook, rules });
  runner.run(next, tests);
  expect(runner.lastRun).toBe(1);
});

it.each<[string, Partial<RuleTest>, number]>([
  ['expects that it acts', { expect: { ran: ['rank'] } }, 1],
  ['expects that it does not', { expect: { didNotRun: ['rank'] } }, 1],
  ['asks for it', { woken: ['rank'] }, 1],
  ['is through another entry point', { sent: { area: 2 }, entryPoint: 'import' }, 0],
  ['is at another moment', { sent: { area: 2 }, before: null, moment: 'creating' }, 0],
  ['wakes it', { sent: { area: 2 } }, 1],
  ['is of a type that there is not', { recordType: 'ship' }, 1],
  ['wakes nothing', {}, 0],
])('a test that %s runs again', (_, more, runs) => {
  const rank: Rule = {
    ...sizeClass,
    key: 'rank',
    kind: 'derive',
    wakesOn: ['area'],
    moments: ['updating'],
    entryPoints: ['api'],
    winner: 'rule',
    outcome: setTo('rank', '1'),
  };
  const test: RuleTest = {
    key: 't',
    name: 'T',
    recordType: 'customer',
    before: { data: { name: 'A' } },
    sent: { count: 9 },
    moment: 'updating',
    entryPoint: 'api',
    now: '2026-05-04T09:00:00Z',
    expect: {},
    ...more,
  };
  const runner = new TestRunner();
  const program = compileProgram(rulebookOf(sizeClass, rank));
  runner.run(program, [test]);
  const rules = [sizeClass, { ...rank, outcome: setTo('rank', '2') }];
  const next = recompileProgram(program, { ...program.rulebook, rules });
  expect(runner.run(next, [test])).toEqual(new TestRunner().run(next, [test]));
  runner.run(program, [test]);
  runner.run(next, [test]);
  expect(runner.lastRun).toBe(runs);
});

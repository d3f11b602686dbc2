/** Rule tests: what they say, what is suggested, what they cover and how strong they are. */
import { plainWriting } from '../language/types/writing.ts';
import { describe, expect, it } from 'vitest';
import type { Program } from '../compile/compiled.ts';
import { compileProgram } from '../compile/program.ts';
import { toJUnit } from '../formats/junit.ts';
import type { Field, Rule, Rulebook, RuleTest } from '../document/document.ts';
import { findingsOf } from '../analysis/findings.ts';
import { rulebookOf, sizeClass } from '../testing/customers.ts';
import { german } from '../testing/german.ts';
import { dealBook, dealTypes, ruleOf, setTo } from '../testing/deals.ts';
import { coverageOf } from './coverage.ts';
import { readinessOf } from './readiness.ts';
import { acceptedSteps, reachedBy, runTest, runTests, settleTest, shownStep } from './run.ts';
import { mutableParts, mutantsOfRule } from './mutants.ts';
import { sampled } from './sampled.ts';
import { strengthOf } from './strength.ts';
import { around } from './values.ts';
import { suggestTests } from './suggest.ts';
import { testedId, testValueText } from './test-values.ts';

const program = compileProgram(rulebookOf(sizeClass));
const mutantTexts = (p: Program): string[] =>
  [...p.types.values()].flatMap((t) => t.rules.flatMap((r) => mutantsOfRule(r, t, p.rulebook).map((m) => m.text)));
const tried = (count: number | null, size: string | null, more: Partial<RuleTest> = {}): RuleTest => ({
  key: `t${count}`,
  name: `count ${count}`,
  recordType: 'customer',
  before: null,
  sent: { name: 'Alder', count },
  moment: 'creating',
  entryPoint: 'form:full',
  now: '2026-05-04T09:00:00Z',
  expect: { fields: { class: size } },
  ...more,
});

describe('a test', () => {
  it.each<[string, RuleTest, readonly string[]]>([
    ['holds', tried(10, 'small'), []],
    ['names options as people do', tried(10, 'Small'), []],
    ['fails with what is and what should be', tried(9, 'small'), ['Size class is Micro, not Small.']],
    [
      'says which rule did not run',
      tried(9, 'micro', { expect: { ran: ['nobody'] } }),
      ['“nobody” did not act: not there.'],
    ],
    [
      'says which rule ran',
      tried(9, 'micro', { expect: { didNotRun: ['size-class'] } }),
      ['“Size class, set from employee count” acted.'],
    ],
    [
      'checks messages whole',
      tried(9, null, { sent: { count: 9 }, expect: { messages: [] } }),
      ['It says: “Name has to be filled in.”; expected: nothing.'],
    ],
    ['checks states', tried(9, null, { expect: { states: { class: { locked: true }, kind: { locked: false } } } }), []],
    [
      'says what a field is like, and what is expected',
      tried(9, null, {
        expect: { states: { class: { locked: false }, kind: { required: true, allowed: ['orchard'] } } },
      }),
      [
        'Size class is locked; expected: is not locked.',
        'Kind may stay blank; expected: has to be filled in.',
        'Kind takes any option; expected: takes only Orchard.',
      ],
    ],
    [
      'wants fields',
      tried(9, null, { expect: { fields: { nothing: 1, kind: 'no such' }, states: { nothing: { allowed: [] } } } }),
      [
        'There is no field nothing.',
        'Kind is blank, not no such.',
        'nothing takes any option; expected: takes only nothing.',
      ],
    ],
    [
      'names options that there are not, and states that there are not, as they stand',
      tried(9, null, { expect: { states: { kind: { allowed: ['gone'], shaded: true } as never } } }),
      ['Kind takes any option; expected: takes only gone.', 'Kind shaded false; expected: shaded true.'],
    ],
    [
      'checks the verdict',
      tried(9, null, { expect: { verdict: 'stopped' } }),
      ['The write is saved; expected: is stopped.'],
    ],
    ['wants a record type', tried(9, null, { recordType: 'ship' }), ['There is no record type ship.']],
  ])('%s', (_, test, failures) => {
    expect(runTest(program, test).failures).toEqual(failures);
  });

  it('steps that were accepted say what was written, and nothing of rules that had nothing to do', () => {
    const blank = { ...sizeClass, key: 'blank', outcome: { ...(sizeClass.outcome as object), target: 'class' } };
    const off = { ...blank, key: 'off', on: false };
    const p = compileProgram(rulebookOf(sizeClass, off));
    const type = p.types.get('customer')!;
    const before = { data: { name: 'A', count: 9, class: 'micro' }, held: [] };
    const steps = (sent: RuleTest['sent']) =>
      acceptedSteps(settleTest(p, tried(9, null, { before, moment: 'updating', sent })), type);
    expect(steps({ count: 60 })).toEqual([{ rule: 'size-class', verdict: 'ran', text: 'Size class: Medium' }]);
    expect(steps({ count: null })).toEqual([{ rule: 'size-class', verdict: 'ran', text: 'Size class: blank' }]);
    expect(steps({ count: 8 })).toEqual([{ rule: 'size-class', verdict: 'no effect' }]);
    expect(steps({ area: 1 })).toEqual([]);
  });

  it('brings its own related records; `tested` names its record in them', () => {
    const total = ruleOf('customer', 'derive', setTo('open', 'sum(Deals.Amount)'));
    const test = {
      ...tried(null, null),
      sent: { name: 'A' },
      before: { data: { name: 'B' } },
      moment: 'updating',
      woken: [total.key],
      related: [{ key: '1', recordType: 'deal', data: { customer: 'tested', amount: 7 } }],
      expect: { fields: { open: 7 } },
    } as const;
    expect(runTest(compileProgram(dealBook([total])), test).failures).toEqual([]);
  });

  it('reads as JUnit XML', () => {
    const xml = toJUnit('A & B', runTests(program, [tried(10, 'small'), tried(9, 'small', { name: '<"9">' })]));
    expect(xml).toContain('tests="2" failures="1"');
    expect(xml).toContain('name="&lt;&quot;9&quot;&gt;"');
  });
});

describe('suggestions', () => {
  const suggested = suggestTests(program);
  const counts = suggested.flatMap((s) =>
    s.test.entryPoint === 'form:full' && !s.test.before ? [s.test.sent['count']] : [],
  );

  // Three-value boundary value analysis: ISTQB Certified Tester Foundation Level Syllabus v4.0, 4.2.2.
  it('stand at both sides of each boundary with their neighbours, and at blank', () => {
    expect(new Set(counts)).toEqual(new Set([-2, -1, 0, 1, 8, 9, 10, 11, 48, 49, 50, 51, 248, 249, 250, 251, null]));
  });

  it('hold on the draft that they come from, and reach every band and entry point', () => {
    expect(suggested.flatMap((s) => runTest(program, s.test).failures)).toEqual([]);
    const { branch, acts } = coverageOf(
      program,
      runTests(
        program,
        suggested.map((s) => s.test),
      ),
    ).totals;
    expect([acts, branch]).toEqual([
      { reached: 1, all: 1 },
      { reached: 6, all: 6 },
    ]);
    expect(new Set(suggested.map((s) => s.test.entryPoint)).size).toBeGreaterThanOrEqual(5);
  });

  it('include a change of an unrelated field, which must not run the rule', () => {
    const { test } = suggested.find((s) => s.why === 'another field changes')!;
    expect(test.expect.didNotRun).toEqual(['size-class']);
  });

  it('include each move of an ordered picklist and back', () => {
    const rule = ruleOf('deal', 'derive', setTo('previous', 'previous.Stage'), { condition: 'has changed(Stage)' });
    const whys = suggestTests(compileProgram(dealBook([rule]))).map((s) => s.why);
    expect(whys).toEqual(
      expect.arrayContaining(['Stage from Surveyed to Proposal', 'Stage from Proposal to Surveyed']),
    );
  });

  // Unique-cause MC/DC after NASA/TM-2001-210876, 3.2: (A or B) and C needs four combinations.
  it('let each part of a condition decide alone', () => {
    const rule = ruleOf('deal', 'derive', setTo('cost', '1'), {
      condition: '(Amount > 5 or Discount > 0.1) and Stage = "Won"',
    });
    const book = compileProgram(dealBook([rule]));
    const own = suggestTests(book).filter((s) => s.test.before === null);
    const { part } = coverageOf(
      book,
      runTests(
        book,
        own.map((s) => s.test),
      ),
    ).totals;
    expect(part).toEqual({ reached: 6, all: 6 });
  });
});

describe('coverage', () => {
  it('counts what tests reach and names what they do not', () => {
    const coverage = coverageOf(program, runTests(program, [tried(10, 'small'), tried(null, null)]));
    expect([coverage.totals.acts, coverage.totals.branch]).toEqual([
      { reached: 1, all: 1 },
      { reached: 2, all: 6 },
    ]);
    const missing = coverage.rules[0]!.cells.filter((c) => c.state === 'not reached');
    expect(missing.map((m) => m.text)).toContain('from 250');
    expect(reachedBy(runTests(program, [tried(10, 'small')]))).toEqual(new Set(['size-class']));
  });
});

describe('strength', () => {
  const boundaries = [9, 10, 49, 50, 249, 250].map((n) =>
    tried(n, n < 10 ? 'micro' : n < 50 ? 'small' : n < 250 ? 'medium' : 'large'),
  );
  it('tests on both sides of a boundary catch its faults; survivors name a test that would catch them', () => {
    const few = strengthOf(program, [tried(30, 'small')]);
    const many = strengthOf(program, boundaries);
    expect(many.caught).toBeGreaterThan(few.caught);
    expect(many.survivors.filter((s) => s.text.includes('10 moved'))).toEqual([]);
    for (const s of few.survivors) expect(s.test.recordType).toBe('customer');
    expect(few.caught + few.survivors.length).toBe(few.planted);
  });

  // ISTQB Foundation syllabus v4.0, 4.2.2: with three values each boundary value and its neighbours on both sides.
  it.each<[string, number, boolean, Partial<Field>, readonly unknown[]]>([
    ['the upper part has the boundary', 11, false, { scale: 0 }, [9, 10, 11, 12]],
    ['the lower part has it', 11, true, { scale: 0 }, [10, 11, 12, 13]],
    ['by the step of the field', 1.5, false, { scale: 1 }, [1.3, 1.4, 1.5, 1.6]],
    ['money', 11, false, { type: 'money' }, [10.98, 10.99, 11, 11.01]],
    ['dates', 20000, false, { type: 'date' }, ['2024-10-02', '2024-10-03', '2024-10-04', '2024-10-05']],
  ])('values around a boundary: %s', (_, boundary, closed, more, values) => {
    expect(
      around(boundary, { key: 'f', name: 'F', type: 'number', ...more }, plainWriting, closed).map((t) => t.value),
    ).toEqual(values);
  });

  it('every other operator and both constants are planted for a comparison; bands move by the step of the field', () => {
    const rule: Rule = { ...sizeClass, condition: 'Employee count >= 10' };
    const texts = mutantTexts(compileProgram(rulebookOf(rule)));
    for (const by of ['with <', 'with <=', 'with >', 'with =', 'with !=', 'made true', 'made false'])
      expect(texts).toContain(`Employee count >= 10 ${by}`);
    const money = mutantTexts(
      compileProgram(
        dealBook([
          ruleOf('deal', 'categorize', {
            source: 'Amount',
            target: 'cost',
            bands: [
              { to: 10, result: 1 },
              { from: 10, result: 2 },
            ],
            blank: { do: 'leave' },
            outside: { do: 'leave' },
          }),
        ]),
      ),
    );
    expect(money).toEqual(expect.arrayContaining(['the boundary 10 moved to 9.99', 'the boundary 10 moved to 10.01']));
  });

  it('a sample is the same for the same seed, in order, and another one for another', () => {
    const all = Array.from({ length: 1000 }, (_, i) => i);
    const one = sampled(all, 100, 1);
    expect(sampled(all, 100, 1)).toEqual(one);
    expect([...one].sort((a, b) => a - b)).toEqual(one);
    expect(new Set(one).size).toBe(100);
    expect(sampled(all, 100, 2)).not.toEqual(one);
    expect(sampled(all, 1000, 2)).toBe(all);
  });

  // Kaminski, Ammann and Offutt, Journal of Systems and Software 86 (2013), 2002-2012: of the seven mutants of a relational
  // operator three subsume the others; whoever catches these three catches all (here for `>=`: true, `>` and `=`).
  it('whoever catches the three subsuming mutants of a comparison catches all seven', () => {
    const rule: Rule = { ...sizeClass, condition: 'Area >= 5' };
    const book = compileProgram(rulebookOf(rule));
    const at = (area: number, ran: boolean): RuleTest =>
      tried(10, null, {
        key: `a${area}`,
        sent: { name: 'A', count: 10, area },
        expect: ran ? { fields: { class: 'small' } } : { didNotRun: ['size-class'] },
      });
    const notices = (tests: readonly RuleTest[]): string[] =>
      strengthOf(book, tests).survivors.flatMap((s) => (/^Area >= 5 (with|made)/.test(s.text) ? [s.text] : []));
    expect(notices([at(4, false), at(5, true), at(6, true)])).toEqual([]);
    expect(notices([at(4, false), at(5, true)])).toEqual(['Area >= 5 with =']);
    expect(notices([at(4, false), at(6, true)])).toEqual(['Area >= 5 with >']);
  });

  it('a fault that changes nothing in any region is the same, and outside the score', () => {
    const condition = 'Size class = "Large"';
    const rule = ruleOf('customer', 'derive', setTo('rank', '1'), { condition });
    const { same, undecided } = strengthOf(compileProgram(rulebookOf(rule)), []);
    expect(same).toBe(1);
    expect(undecided.map((u) => u.text)).not.toContain(`${condition} with >=`);
  });

  it('goes part by part, and each part comes to the same alone', () => {
    const parts = mutableParts(program);
    expect(parts).toEqual([{ kind: 'rule', key: 'size-class' }]);
    expect(strengthOf(program, boundaries).parts.map((p) => p.part)).toEqual(parts);
  });

  it('all suggestions together leave no survivor', () => {
    expect(
      strengthOf(
        program,
        suggestTests(program).map((s) => s.test),
      ).survivors.map((s) => s.text),
    ).toEqual([]);
  });
});

it('a draft is ready where no error is left that counts, and its tests hold', () => {
  const unread: Rule = { ...sizeClass, key: 'unread', name: 'Unread', condition: 'Aera > 1' };
  const plain = { ...sizeClass, purpose: '' };
  const test = { ...suggestTests(compileProgram(rulebookOf(sizeClass)))[0]!.test, name: 'One' };
  const failing = { ...test, key: 'f', name: 'Two', expect: { verdict: 'stopped' } };
  const of = (rules: readonly Rule[], more: Partial<Rulebook> = {}) =>
    readinessOf({ ...rulebookOf(...rules), ...more }, {});
  expect(of([sizeClass])).toMatchObject({ blocking: [], tests: 0, failing: [] });
  const tested = of([sizeClass], { tests: [test, failing] });
  expect([tested.tests, tested.failing.map((f) => [f.name, f.failures])]).toEqual([
    2,
    [['Two', ['The write is saved; expected: is stopped.']]],
  ]);
  const [blocking] = of([unread]).blocking;
  expect(blocking?.kind).toBe('does-not-compile');
  // What does not compile is not accepted away; what is only doubtful is.
  const accepted = [{ finding: blocking!.key, reason: 'later' }];
  expect(of([unread], { accepted }).blocking).toHaveLength(1);
  const doubtful = findingsOf(compileProgram(rulebookOf(plain)), { reached: new Set() }).filter(
    (f) => f.severity !== 'error',
  );
  const all = doubtful.map((f) => ({ finding: f.key, reason: 'so it is' }));
  expect([of([plain]).open - doubtful.length, of([plain], { accepted: all }).open]).toEqual([0, 0]);
});

it('a record of another type that happens to be keyed like it is not the record under test', () => {
  const related = [{ key: testedId, recordType: 'area', data: { name: 'Fen' } }];
  const read = (recordType: string, key: string) =>
    testValueText(recordType, key, testedId, { recordType: 'customer', related }, dealBook([]), String);
  expect([read('customer', 'area'), read('deal', 'customer')]).toEqual(['Fen', 'the record under test']);
});

describe('the record under test, by what links to it', () => {
  const recordTypes = dealTypes.map((t) =>
    t.key === 'customer'
      ? {
          ...t,
          fields: [...t.fields, { key: 'parent', name: 'Parent', type: 'lookup', recordType: 'customer' } as const],
        }
      : t,
  );
  const program = compileProgram(
    dealBook(
      [
        ruleOf('customer', 'derive', setTo('parent', 'Deals[1].Customer'), { repeat: 'every' }),
        ruleOf('customer', 'derive', setTo('name', 'Deals[1].Title'), { repeat: 'every' }),
        ruleOf('customer', 'validate', {
          checks: [{ hold: 'should', formula: 'Parent = null', message: 'It is below {Parent}.', field: '' }],
        }),
      ],
      { recordTypes },
    ),
  );
  const test: RuleTest = {
    key: 't',
    name: 'T',
    recordType: 'customer',
    before: { data: {} },
    sent: {},
    moment: 'updating',
    entryPoint: 'api',
    now: '2026-05-03T09:00:00Z',
    related: [{ key: '1', recordType: 'deal', data: { title: 'tested', customer: testedId } }],
    expect: { fields: { parent: testedId, name: 'tested' } },
  };

  it('has the same name in what comes out as in what stands beside it, and a text that reads like it stays', () => {
    expect(runTest(program, test).failures).toEqual([]);
    expect(settleTest(program, test).changes.map((c) => [c.field, c.to])).toEqual([
      ['name', 'tested'],
      ['parent', testedId],
    ]);
    expect(settleTest(program, test).messages).toMatchObject([{ text: 'It is below tested.' }]);
    expect(JSON.stringify(settleTest(program, test))).not.toContain('\\u0000');
  });
});

it('the text of a kept step is shown as the organisation writes its values, names with commas included', () => {
  const outcomes = (types: typeof dealTypes) =>
    compileProgram(
      dealBook(
        [
          ruleOf('deal', 'derive', setTo('cost', '1234.5')),
          ruleOf('deal', 'derive', setTo('amount', '2000')),
          ruleOf('deal', 'derive', setTo('title', '"A, Cost: 7"')),
        ],
        { recordTypes: types },
      ),
      { writing: () => german },
    );
  const renamed = dealTypes.map((t) => ({
    ...t,
    fields: t.fields.map((f) => (f.key === 'amount' ? { ...f, name: 'Amount, in all (net)' } : f)),
  }));
  const program = outcomes(renamed);
  const type = program.types.get('deal')!;
  const test = tried(0, null, { recordType: 'deal', sent: {}, expect: {} });
  const texts = acceptedSteps(settleTest(program, test), type).map((s) => [s.text, shownStep(s, type)]);
  expect(texts).toEqual([
    ['Cost: 1,234.50', 'Cost: 1.234,50 €'],
    ['Amount, in all (net): 2,000.00', 'Amount, in all (net): 2.000,00 €'],
    ['Title: A, Cost: 7', 'Title: A, Cost: 7'],
  ]);
  expect(shownStep({ rule: 'gone', verdict: 'ran', text: 'Gone: 1,000.00' }, type)).toBe('Gone: 1,000.00');
});

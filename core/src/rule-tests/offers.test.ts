import { describe, expect, it } from 'vitest';
import { compileProgram } from '../compile/program.ts';
import type { Rule, RuleTest } from '../document/document.ts';
import { customerType, rulebookOf, sizeClass } from '../testing/customers.ts';
import { marksOf } from './coverage.ts';
import { firstOffers, identityOf, offersFor, type Offer } from './offers.ts';
import { runTest, runTests } from './run.ts';
import { linesOf } from './family.ts';
import { StrengthMeter, strengthOf } from './strength.ts';

const program = compileProgram(rulebookOf(sizeClass));
const type = program.types.get('customer')!;
const rule = type.rules[0]!;
const offers = (tests: readonly RuleTest[], refused: ReadonlySet<string> = new Set()): Offer[] => {
  const seen = new Set(runTests(program, tests).flatMap((r) => [...marksOf(r.settlement!.trace, r.test.entryPoint)]));
  return offersFor(rule, type, new StrengthMeter(program, tests), seen, refused, tests);
};

it('a field without edges, such as a phone, is tried with a value of its kind: a rule that waits for its change acts', () => {
  const called: Rule = {
    ...sizeClass,
    key: 'called',
    name: 'Called',
    kind: 'derive',
    condition: 'Phone != null',
    outcome: { steps: [{ target: 'rank', scratch: '', formula: '1', blank: 'clear' }] },
  };
  const phone = { key: 'phone', name: 'Phone', type: 'phone' } as const;
  const fields = [...customerType.fields, phone];
  const book = { ...rulebookOf(called), recordTypes: [{ ...customerType, fields }] };
  const own = compileProgram(book);
  const customer = own.types.get('customer')!;
  const found = offersFor(customer.rules[0]!, customer, new StrengthMeter(own, []), new Set());
  expect(found.some((o) => o.test.sent['phone'] && o.test.expect.ran?.includes('called'))).toBe(true);
});

describe('offers', () => {
  const all = offers([]);
  const { offers: useful } = firstOffers(all);

  it('hold on the draft that they come from, line by line', () => {
    const lines = all.flatMap((o) => linesOf(o.test, type));
    expect(lines.flatMap((l) => runTest(program, l.test).failures)).toEqual([]);
  });

  it('the first few leave no fault unnoticed, and each of them adds something', () => {
    const { survivors } = strengthOf(
      program,
      useful.map((o) => o.test),
    );
    expect(survivors.map((s) => s.text)).toEqual([]);
    expect(useful.at(-1)!.strengthAfter).toBe(1);
    for (const { adds } of useful) expect(adds.cells.length + adds.faults.length).toBeGreaterThan(0);
    expect(useful.length).toBeLessThan(all.length / 2);
  });

  it('gather what tries one thing into a family', () => {
    expect(all.find((o) => o.kind === 'boundary')).toMatchObject({
      why: 'around each boundary of Employee count',
      test: { family: { cases: { sent: ['count'], expected: ['class'] } } },
    });
    expect(all.filter((o) => o.kind === 'entry').every((o) => o.test.family?.entryPoints)).toBe(true);
  });

  it('what is taken or was refused is not offered again', () => {
    const [first, second] = useful as [Offer, Offer];
    const rest = offers([first.test], new Set([second.identity])).map((o) => o.identity);
    expect(rest).not.toContain(first.identity);
    expect(rest).not.toContain(second.identity);
  });

  it('an identity says what is tried, not what comes out', () => {
    const [{ test }] = useful as [Offer];
    expect(identityOf({ ...test, name: 'Other', expect: { verdict: 'stopped' } })).toBe(identityOf(test));
    expect(identityOf({ ...test, entryPoint: 'import' })).not.toBe(identityOf(test));
  });
});

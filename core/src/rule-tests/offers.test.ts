import { describe, expect, it } from 'vitest';
import { compileProgram } from '../compile/program.ts';
import type { Cell, MappingTable, Rule, RuleTest } from '../document/document.ts';
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

// Rows by the day that a price list holds from, as common practice has it.
it.each<[string, readonly Cell[]]>([
  ['days', ['2026-05-03', ['2026-06-01', '2026-06-02'], { blank: true }]],
  [
    'periods',
    [
      { to: '2026-01-01' },
      { from: '2026-01-01', to: '2026-06-30', toClosed: true },
      { from: '2026-06-30', fromOpen: true },
    ],
  ],
])('every row of a table of %s is reached by what is proposed', (_, cells) => {
  const leave = { do: 'leave' };
  const priced: Rule = {
    ...sizeClass,
    key: 'priced',
    name: 'Priced',
    kind: 'map',
    outcome: {
      source: { by: 'table', table: 'prices', keys: { on: 'Signed on' } },
      onto: '',
      outputs: [{ target: 'rank', value: 'rank' }],
      blank: { do: 'lookup' },
      none: leave,
      several: leave,
    },
  };
  const table: MappingTable = {
    key: 'prices',
    name: 'Prices',
    purpose: '',
    hitPolicy: 'unique',
    keys: [{ key: 'on', name: 'On', type: 'date' }],
    outputs: [{ key: 'rank', name: 'Rank', type: 'number' }],
    rows: cells.map((on, i) => ({ on, rank: i + 1 })),
  };
  const fields = [...customerType.fields, { key: 'signed', name: 'Signed on', type: 'date' }];
  const own = compileProgram({ ...rulebookOf(priced), recordTypes: [{ ...customerType, fields }], tables: [table] });
  expect(own.broken).toEqual([]);
  const customer = own.types.get('customer')!;
  const found = offersFor(customer.rules[0]!, customer, new StrengthMeter(own, []), new Set());
  const tests = firstOffers(found).offers.map((o) => o.test);
  const results = runTests(own, tests);
  const ranks = results.map((r) => r.settlement?.data['rank']);
  expect(cells.map((_cell, i) => i + 1).filter((rank) => !ranks.includes(rank))).toEqual([]);
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

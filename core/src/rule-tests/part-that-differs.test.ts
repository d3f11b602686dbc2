/** What two rulebooks make of a record is the same whether each is run in whole, or one of them only where they differ. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compileProgram } from '../compile/program.ts';
import type { Rule, Rulebook } from '../document/document.ts';
import { RecordsSource } from '../records/record-source.ts';
import { settleAndPropagate } from '../related/propagation.ts';
import type { Settlement } from '../settle/settlement.ts';
import { dealBook, dealRecords, dealTypes, mapOf, outputOf, pairsOf, ruleOf, setTo } from '../testing/deals.ts';
import { randomRulebook, rankTable, randomWrite } from '../testing/random-rulebooks.ts';
import { runsOf } from '../testing/runs.ts';
import { Comparison, impactWrite } from './dry-run.ts';
import { impactWays, type ImpactWay } from './impact-figures.ts';
import type { TriedRecord } from './impact-tally.ts';
import { partThatDiffers } from './part-that-differs.ts';

const now = '2026-05-03T09:00:00+01:00';

/** All that figures are made of, without the order in which it was said; whose a value is counts where it differs from the other's. */
const counted = (s: Settlement | undefined, other: Settlement | undefined) =>
  s && {
    verdict: s.verdict,
    data: s.data,
    states: s.states,
    messages: s.messages.map((m) => JSON.stringify(m)).sort(),
    notifications: s.notifications.map((n) => JSON.stringify(n)).sort(),
    authors: Object.fromEntries(
      s.changes
        .filter((c) => JSON.stringify(s.data[c.field]) !== JSON.stringify(other?.data[c.field]))
        .map((c) => [c.field, c.author]),
    ),
  };

function expectTheSame(
  [a, b]: readonly [Rulebook, Rulebook],
  type: string,
  records: readonly TriedRecord[],
  world: RecordsSource,
  way: ImpactWay,
): string[] {
  const [before, after] = [compileProgram(a), compileProgram(b)];
  const comparison = new Comparison(type, before, after, way, now);
  return records.map((record) => {
    const whole = [before, after].map((p) => {
      const write = impactWrite(p, type, record, way, now);
      return write && settleAndPropagate(p, write, world, { trace: false }).settlement;
    });
    const [was, is] = comparison.settle(record, world);
    expect([counted(was, is), counted(is, was)]).toEqual([counted(whole[0], whole[1]), counted(whole[1], whole[0])]);
    return `${was?.verdict} to ${is?.verdict}`;
  });
}

/** Whether only a part of the rules of a type is run twice. */
const inPart = (a: Rulebook, b: Rulebook, type: string): boolean =>
  partThatDiffers(compileProgram(a), compileProgram(b), type) !== undefined;

it('for random rules, of which some are exchanged, left out or added', () => {
  let parts = 0;
  fc.assert(
    fc.property(
      randomRulebook,
      randomRulebook,
      fc.array(fc.boolean(), { minLength: 8, maxLength: 8 }),
      fc.array(randomWrite, { minLength: 3, maxLength: 3 }),
      fc.constantFrom(...impactWays),
      (a, other, exchanged, writes, way) => {
        const both = { ...a, tables: [rankTable] };
        const rules = Array.from({ length: 8 }, (_, i) => (exchanged[i] && i % 3 === 0 ? other : a).rules[i]);
        const tables = exchanged[1]
          ? [{ ...rankTable, rows: rankTable.rows.map((r) => ({ ...r, place: 7 })) }]
          : both.tables;
        const b = { ...both, tables, rules: rules.flatMap((r) => r ?? []) };
        if (inPart(both, b, 'customer')) parts++;
        const records = writes.map((w, i) => ({
          id: String(i),
          data: { ...w.before?.data, ...w.sent } as TriedRecord['data'],
          held: w.before?.held ?? [],
        }));
        expectTheSame([both, b], 'customer', records, new RecordsSource([]), way);
      },
    ),
    { numRuns: runsOf(400) },
  );
  expect(parts).toBeGreaterThan(runsOf(30));
});

describe('where records are linked', () => {
  const world = new RecordsSource(dealRecords);
  const recordTypes = dealTypes.map((t) => ({
    ...t,
    fields: t.fields.map((f) => (f.key === 'signed' ? { ...f, required: true } : f)),
  }));
  const signed = { recordTypes };
  const cost = ruleOf('deal', 'derive', setTo('cost', 'Amount * 2'));
  const margin = ruleOf('deal', 'derive', setTo('discount', 'Cost / Amount / 100'));
  const stage = ruleOf('deal', 'derive', setTo('furthest', 'Stage'));
  const kept = ruleOf('deal', 'derive', setTo('previous', 'Stage'));
  const open = ruleOf('customer', 'derive', setTo('open', 'sum(Deals.Amount)'));
  const most = ruleOf('customer', 'validate', {
    checks: [{ hold: 'must', formula: 'Open deal value < 400', message: 'Too much is open.', field: 'open' }],
  });
  const region = ruleOf('deal', 'derive', setTo('title', 'Customer.Region'));
  const siblings = ruleOf('deal', 'derive', setTo('signed', 'max(Customer.Deals.Signing date)'));
  const sends = mapOf('deal', pairsOf('Deal kind', ['Plan', 'A']), [outputOf('postcode')], 'customer');
  const other = (r: Rule, formula: string): Rule => ({
    ...r,
    outcome: setTo((r.outcome as { steps: { target: string }[] }).steps[0]!.target, formula),
  });
  const checks = (formula: string, message: string) => ({
    checks: [{ hold: 'must', formula, message, field: 'title' }],
  });
  const early = ruleOf('deal', 'validate', checks('Amount < 50', 'It is early.'));
  const filled = { ...early, outcome: checks('Amount > 0', 'It is early.') };
  const ring = [setTo('cost', 'Amount + 1'), setTo('amount', 'Cost + 1')].map((o) => ruleOf('deal', 'derive', o));
  const title = ruleOf('deal', 'derive', setTo('title', 'Deal kind'));
  const email = { channel: 'email', to: '"a@b.example"', subject: 'It costs', body: '{Cost}' } as const;
  const tells = ruleOf('deal', 'derive', setTo('discount', '0.1'), { notify: [email] });
  const must = { ...most, outcome: { checks: [{ hold: 'must', formula: 'Open deal value < 1', message: 'None.' }] } };

  it.each<[string, boolean, readonly Rule[], readonly Rule[], object?]>([
    ['a rule that others do not follow from', true, [cost, stage, kept], [cost, stage, other(kept, '"Won"')]],
    ['a rule that another follows from', true, [cost, margin, stage, kept], [other(cost, '7'), margin, stage, kept]],
    ['beside a total on another record', true, [cost, stage, kept, open, most], [cost, stage, open, most]],
    [
      'what a total elsewhere hangs on',
      false,
      [other(cost, '1'), open],
      [ruleOf('deal', 'derive', setTo('amount', '9')), open],
    ],
    ['a check of the record that totals', false, [cost, stage, open, most], [cost, stage, open, must]],
    ['values for other records', false, [cost, stage, kept, sends], [cost, stage, sends]],
    [
      'what is read along a link',
      true,
      [cost, stage, kept, region],
      [cost, stage, kept, other(region, 'Customer.Postcode')],
    ],
    [
      'records among which it may be itself',
      false,
      [cost, stage, kept, siblings],
      [other(cost, '3'), stage, kept, siblings],
    ],
    ['a save that a total would stop', true, [cost, stage, open, must], [cost, stage, open, must, early]],
    ['a message in the place of a field to be filled in', true, [cost, stage, filled], [cost, stage, early], signed],
    ['rules elsewhere that chase each other', true, [...ring, stage, kept], [...ring, stage, other(kept, '"Won"')]],
    ['rules that chase each other in one of them', true, [...ring, stage, kept], [stage, kept]],
    [
      'what is told to somebody',
      true,
      [cost, tells, stage, kept, title],
      [other(cost, '3'), tells, stage, kept, title],
    ],
    ['nothing', true, [cost, stage, kept], [cost, stage, kept]],
  ])('%s', (_, part, live, draft, more = {}) => {
    const both = [dealBook([...live], more), dealBook([...draft], more)] as const;
    expect(inPart(...both, 'deal')).toBe(part);
    for (const way of impactWays)
      for (const type of ['deal', 'customer'])
        expectTheSame(
          both,
          type,
          dealRecords.filter((r) => r.recordType === type),
          world,
          way,
        );
  });
});

it('where formulas of both together take more work than one write may, each is run in whole', () => {
  const counted = (target: string, n: number): Rule =>
    ruleOf('deal', 'derive', setTo(target, `count(for i in 1..${n} return i + Amount)`));
  const [long, longer, short] = [counted('cost', 60_000), counted('discount', 70_000), counted('discount', 1)];
  const also = [ruleOf('deal', 'derive', setTo('furthest', 'Stage')), ruleOf('deal', 'derive', setTo('title', 'Kind'))];
  const asked = { ...longer, outcome: short.outcome };
  const [over, within] = [dealBook([long, longer, ...also]), dealBook([long, asked, ...also])];
  expect([inPart(over, within, 'deal'), inPart(within, over, 'deal')]).toEqual([true, true]);
  const deals = dealRecords.filter((r) => r.recordType === 'deal');
  const seen = new Set<string>();
  for (const [live, draft] of [
    [over, within],
    [within, over],
  ] as const)
    for (const verdict of expectTheSame([live, draft], 'deal', deals, new RecordsSource(dealRecords), 'as new'))
      seen.add(verdict);
  expect([...seen]).toEqual(expect.arrayContaining(['saved to stopped', 'stopped to saved']));
});

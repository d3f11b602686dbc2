/** What a release would do is what a save does: the three ways differ as saves do. */
import { expect, it } from 'vitest';
import { compileProgram } from '../compile/program.ts';
import { settleAndPropagate } from '../related/propagation.ts';
import { RecordsSource } from '../records/record-source.ts';
import type { Rule } from '../document/document.ts';
import { dealBook, dealRecords, dealTypes, ruleOf, setTo } from '../testing/deals.ts';
import { Impact, impactWays } from './dry-run.ts';

const now = '2026-05-03T09:00:00+01:00';
const deal = dealTypes.find((t) => t.key === 'deal')!;
const deals = dealRecords.filter((r) => r.recordType === 'deal');
const world = new RecordsSource(dealRecords);
const figures = (live: readonly Rule[], draft: readonly Rule[]) =>
  impactWays.map((way) => {
    const impact = new Impact(deal, compileProgram(dealBook(live)), compileProgram(dealBook(draft)), way, world, now);
    for (const record of deals) impact.add(record);
    const { changed, newlyBlank, newlyStopped, noLongerStopped, fields } = impact.figures();
    return [changed, newlyBlank, newlyStopped, noLongerStopped, fields.map((f) => [f.field, f.records])];
  });

const cost = ruleOf('deal', 'derive', setTo('cost', 'Amount * 2'));
const clears = ruleOf('deal', 'derive', setTo('stage', 'if Amount = null then null else Stage'));
const check = ruleOf('deal', 'validate', {
  checks: [{ hold: 'must', formula: 'Amount != null', message: 'No amount.', field: 'amount' }],
});

it.each<[string, Rule[], Rule[], unknown[]]>([
  [
    'nothing',
    [cost],
    [cost],
    [
      [0, 0, 0, 0, []],
      [0, 0, 0, 0, []],
      [0, 0, 0, 0, []],
    ],
  ],
  // Of three deals two have an amount; a stored record moves when something wakes the rule, or a backfill names it.
  [
    'a derived value',
    [],
    [cost],
    [
      [0, 0, 0, 0, []],
      [2, 0, 0, 0, [['Cost', 2]]],
      [2, 0, 0, 0, [['Cost', 2]]],
    ],
  ],
  [
    'a value that goes',
    [],
    [clears],
    [
      [0, 0, 0, 0, []],
      [1, 1, 0, 0, [['Stage', 1]]],
      [1, 1, 0, 0, [['Stage', 1]]],
    ],
  ],
  // A backfill only warns of what failed before.
  [
    'a check',
    [],
    [check],
    [
      [0, 0, 1, 0, []],
      [0, 0, 1, 0, []],
      [0, 0, 0, 0, []],
    ],
  ],
  [
    'a check that goes',
    [check],
    [],
    [
      [0, 0, 0, 1, []],
      [0, 0, 0, 1, []],
      [0, 0, 0, 0, []],
    ],
  ],
])('%s: at the next save, as new, by a backfill', (_, live, draft, expected) => {
  expect(figures(live, draft)).toEqual(expected);
});

it('what is told newly stopped is what a save refuses', () => {
  const program = compileProgram(dealBook([check]));
  const refused = deals.filter(
    ({ id, data }) =>
      settleAndPropagate(
        program,
        {
          recordType: 'deal',
          id,
          before: { data, held: [] },
          sent: {},
          typed: [],
          moment: 'updating',
          entryPoint: 'form:full',
          now,
        },
        world,
      ).settlement.verdict !== 'saved',
  );
  expect(refused).toHaveLength(figures([], [check])[0]![2] as number);
});

/** Firms with the total of their deals, deals that find their firm by its name and follow it: for tests. */
import type { Rule, Rulebook } from '@rigid-rule/core/document';
import { insertRecordsAsTheyAre } from '../db/load-records.ts';
import { insertActivation, insertRelease } from '../db/releases.ts';
import { serializable } from '../db/transaction.ts';
import { releaseOf } from '../snapshot.ts';
import { anAuthor } from './an-author.ts';
import { emptyInstallation } from './empty-tables.ts';

const forms = [{ key: 'full', name: 'full form' }];
const recordTypes: Rulebook['recordTypes'] = [
  {
    key: 'firm',
    name: 'Firm',
    plural: 'Firms',
    title: ['name'],
    forms,
    fields: [
      { key: 'name', name: 'Name', type: 'text' },
      { key: 'total', name: 'Open value', type: 'money', max: 1000 },
      { key: 'stop', name: 'Credit stop', type: 'yes/no' },
    ],
  },
  {
    key: 'deal',
    name: 'Deal',
    plural: 'Deals',
    title: ['title'],
    forms,
    fields: [
      { key: 'title', name: 'Title', type: 'text' },
      { key: 'given', name: 'Firm as given', type: 'text' },
      { key: 'firm', name: 'Firm', type: 'lookup', recordType: 'firm' },
      { key: 'amount', name: 'Amount', type: 'money' },
      { key: 'notice', name: 'Notice', type: 'text' },
    ],
  },
];
export const rule = (
  key: string,
  recordType: string,
  kind: string,
  outcome: unknown,
  more: Partial<Rule> = {},
): Rule => ({
  key,
  recordType,
  name: key,
  purpose: 'tried',
  kind,
  on: true,
  position: 0,
  moments: ['creating', 'updating'],
  entryPoints: ['form:full', 'api', 'rule'],
  repeat: 'wakes',
  winner: 'rule',
  outcome,
  ...more,
});
export const set = (target: string, formula: string) => ({ steps: [{ target, scratch: '', formula, blank: 'clear' }] });
const leave = { do: 'leave' };
export const rulebook: Rulebook = {
  format: 'rigid-rule/1',
  name: 'Related',
  zone: 'UTC',
  currency: 'EUR',
  recordTypes,
  rules: [
    rule('link', 'deal', 'map', {
      source: { by: 'match', recordType: 'firm', ways: [{ field: 'name', formula: 'Firm as given', mode: 'folded' }] },
      onto: '',
      outputs: [{ value: '', target: 'firm', way: 'replace' }],
      blank: leave,
      none: leave,
      several: leave,
    }),
    rule('title', 'deal', 'derive', {
      steps: [{ target: 'title', scratch: '', template: 'For {Firm.Name}', formula: '', blank: 'gaps' }],
    }),
    rule('total', 'firm', 'derive', set('total', 'sum(Deals.Amount)')),
    rule('stop', 'firm', 'map', {
      source: { by: 'pairs', formula: 'string(Credit stop)', pairs: [{ from: 'true', to: 'under stop' }] },
      onto: 'Deals',
      outputs: [{ value: '', target: 'notice', way: 'replace' }],
      blank: leave,
      none: leave,
      several: leave,
    }),
    rule(
      'warn',
      'firm',
      'derive',
      { steps: [] },
      {
        condition: 'Credit stop',
        repeat: 'starts',
        notify: [{ channel: 'task', to: '"desk"', subject: 'Stop {Name}', body: '', dueInDays: 2 }],
      },
    ),
  ],
};

/** An installation with two firms, under this rulebook; the id of its one user. */
export async function beginWithFirms(): Promise<number> {
  await emptyInstallation();
  const userId = await anAuthor();
  await serializable(async (client) => {
    await insertActivation(
      await insertRelease(await releaseOf(rulebook, 'first', userId), client),
      'first',
      userId,
      client,
    );
    const firms = ['Alder Growers', 'Fen'].map((name, i) => ({ id: i + 1, data: { name } }));
    await insertRecordsAsTheyAre('firm', firms, client);
  });
  return userId;
}

/** On a real PostgreSQL: rules that read, match, total and write other records. */
import type { Rule, Rulebook } from '@rigid-rule/core';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { hashPassword } from './auth/password.ts';
import { migrate } from './db/migrate.ts';
import { closePool, db } from './db/pool.ts';
import { findRecord, insertRecordsAsTheyAre, listHistory } from './db/records.ts';
import { insertActivation, insertRelease } from './db/releases.ts';
import { serializable } from './db/transaction.ts';
import { insertUser } from './db/users.ts';
import { runDependants } from './entry-points/dependants.ts';
import { writeRecord } from './entry-points/write.ts';
import { releaseOf } from './snapshot.ts';

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
const rule = (key: string, recordType: string, kind: string, outcome: unknown, more: Partial<Rule> = {}): Rule => ({
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
const set = (target: string, formula: string) => ({ steps: [{ target, scratch: '', formula, blank: 'clear' }] });
const leave = { do: 'leave' };
const rulebook: Rulebook = {
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

let userId: number;
beforeAll(migrate);
afterAll(closePool);
beforeEach(async () => {
  await db().query(
    `truncate users, draft_parts, releases, activations, records, record_ids, record_writes, match_keys, match_indexes,
       outbox, dependant_jobs restart identity cascade`,
  );
  userId = await insertUser({
    email: 'a@b.example',
    name: 'A',
    role: 'author',
    passwordHash: await hashPassword('right'),
  });
  await serializable(async (client) => {
    await insertActivation(await insertRelease(releaseOf(rulebook, 'first', userId), client), 'first', userId, client);
    await insertRecordsAsTheyAre(
      'firm',
      [
        { id: 1, data: { name: 'Alder Growers' } },
        { id: 2, data: { name: 'Fen' } },
      ],
      client,
    );
  });
});

const write = (type: string, id: number | undefined, sent: Record<string, unknown>) =>
  writeRecord({
    type,
    ...(id === undefined ? {} : { id }),
    sent,
    typed: Object.keys(sent),
    entryPoint: 'form:full',
    by: { userId },
  });
const dataOf = async (type: string, id: number) => (await findRecord(type, id))?.data;

describe('a write', () => {
  it('finds the record that matches, reads it, and totals it anew, in one transaction', async () => {
    expect(await write('deal', undefined, { given: ' alder  GROWERS', amount: 40 })).toMatchObject({
      outcome: 'saved',
    });
    expect(await dataOf('deal', 1)).toMatchObject({ firm: '1', title: 'For Alder Growers' });
    expect(await dataOf('firm', 1)).toMatchObject({ total: 40 });
    await write('deal', 1, { given: 'Fen', amount: 25 });
    expect([await dataOf('firm', 1), await dataOf('firm', 2)]).toMatchObject([{ total: 0 }, { total: 25 }]);
    expect(await listHistory('firm', 2)).toMatchObject([{ entryPoint: 'rule', changes: [{ field: 'total', to: 25 }] }]);
  });

  it('that a related record refuses leaves nothing behind', async () => {
    const result = await write('deal', undefined, { given: 'Fen', amount: 5000 });
    expect(result.outcome).toBe('stopped');
    expect('settlement' in result && result.settlement.messages[0]?.text).toMatch(/^Firm 2: .*above 1000/);
    expect([await dataOf('deal', 1), await dataOf('firm', 2)]).toEqual([undefined, { name: 'Fen' }]);
  });

  it('that sets records to change each other without end is ended, with the reason kept', async () => {
    const growing = rule('grow', 'deal', 'derive', set('amount', 'Firm.Open value + 1'));
    await serializable(async (client) => {
      const book = { ...rulebook, rules: [...rulebook.rules, growing] };
      await insertActivation(
        await insertRelease(releaseOf(book, 'growing', userId), client),
        'growing',
        userId,
        client,
      );
    });
    await write('deal', undefined, { given: 'Fen', amount: 1 });
    await runDependants();
    const { rows } = await db().query<{ failures: string[] }>('select failures from dependant_jobs');
    expect(rows.map((r) => r.failures)).toEqual([['After 8 rounds these records still change each other.']]);
  });

  it('is followed by the records that read it, and by values for its children', async () => {
    await write('deal', undefined, { given: 'Fen', amount: 1 });
    await write('firm', 2, { name: 'Fen & Moor', stop: true });
    await runDependants();
    expect(await dataOf('deal', 1)).toMatchObject({ title: 'For Fen & Moor', notice: 'under stop' });
    const { rows } = await db().query('select recipient, subject, due is not null as dated from outbox');
    expect(rows).toEqual([{ recipient: 'desk', subject: 'Stop Fen & Moor', dated: true }]);
    expect((await db().query('select from dependant_jobs')).rowCount).toBe(0);
  });
});

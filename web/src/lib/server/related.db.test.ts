/** On a real PostgreSQL: rules that read, match, total and write other records. */
import { formKey } from '@rigid-rule/core/compile';
import type { Rule } from '@rigid-rule/core/document';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { migrate } from './db/migrate.ts';
import { closePool, db } from './db/pool.ts';
import { retryFollowUp } from './db/follow-ups.ts';
import { findRecord, findWriteTrace, listFieldAuthors, listHistory } from './db/records.ts';
import { insertActivation, insertRelease } from './db/releases.ts';
import { serializable } from './db/transaction.ts';
import { follow } from './jobs/follow.ts';
import { jobsAskedFor } from './db/follow-ups.ts';
import { workOffQueue } from './jobs/queue.ts';
import { previewWrite, writeRecord } from './entry-points/write.ts';
import { failedFollowUps, followUpsOf } from './follow-ups.ts';
import { DatabaseSource } from './related.ts';
import { asRequest } from './requests-first.ts';
import { prepareSearches, putBack } from './release.ts';
import { releaseOf } from './snapshot.ts';
import { aToken } from './testing/a-token.ts';
import { beginWithFirms, rule, rulebook, set } from './testing/firms-and-deals.ts';

let userId: number;
beforeAll(migrate);
afterAll(closePool);
beforeEach(async () => {
  userId = await beginWithFirms();
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

/** Puts these rules in force with one more. */
const releaseWith = (more: Rule) =>
  serializable(async (client) => {
    const release = await releaseOf({ ...rulebook, rules: [...rulebook.rules, more] }, 'one more', userId);
    await insertActivation(await insertRelease(release, client), 'one more', userId, client);
  });

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
    expect('settlement' in result && result.settlement.messages[0]?.text).toMatch(
      /^Firm 2: total gives €5,000, which is above €1,000/,
    );
    expect([await dataOf('deal', 1), await dataOf('firm', 2)]).toEqual([undefined, { name: 'Fen' }]);
  });

  it('that sets records to change each other without end is ended, with the reason kept', async () => {
    await releaseWith(rule('grow', 'deal', 'derive', set('amount', 'Firm.Open value + 1')));
    await write('deal', undefined, { given: 'Fen', amount: 1 });
    await workOffQueue();
    const { rows } = await db().query<{ failures: { text: string }[] }>('select failures from follow_ups');
    expect(rows.map((r) => r.failures)).toEqual([[{ text: 'After 8 rounds these records still change each other.' }]]);
  });

  it('is told beforehand what it would do elsewhere, and nothing of that is kept', async () => {
    await write('deal', undefined, { given: 'Fen', amount: 1 });
    const request = {
      type: 'deal',
      id: 1,
      sent: { amount: 7 },
      typed: ['amount'],
      entryPoint: formKey('full'),
      by: { userId },
    };
    const total = { field: 'total', from: 1, to: 7, rule: 'total' };
    const effects = [{ recordType: 'firm', id: '2', changes: [total] }];
    expect(await previewWrite(request)).toEqual({ effects, dependants: [], titles: { firm: { 2: 'Fen' } } });
    expect([await dataOf('firm', 2), await dataOf('deal', 1)]).toMatchObject([{ total: 1 }, { amount: 1 }]);
    const renamed = { type: 'firm', id: 2, sent: { name: 'Fen & Moor' }, typed: ['name'], by: { userId } };
    expect(await previewWrite({ ...renamed, entryPoint: 'form:full' })).toMatchObject({
      effects: [],
      dependants: [{ recordType: 'deal', count: 1 }],
    });
    // Who saw other effects than those of now is asked again; who saw none is not.
    const shown = { fields: [], data: {}, states: {}, messages: [], verdict: 'saved' as const };
    const seen = (elsewhere: typeof effects) => writeRecord({ ...request, seen: { ...shown, elsewhere } });
    expect(await seen([{ ...effects[0]!, changes: [{ ...total, to: 8 }] }])).toMatchObject({
      outcome: 'differs',
      differences: [
        { what: 'elsewhere', gone: false },
        { what: 'elsewhere', gone: true },
      ],
      effects,
    });
    expect(await seen(effects)).toMatchObject({ outcome: 'saved' });
  });

  it('is told to be waiting where a job has yet to follow it, and failed with the reason, until it is tried again', async () => {
    await write('deal', undefined, { given: 'Fen', amount: 1 });
    const tokenId = await aToken(userId);
    const firm = (name: string) =>
      writeRecord({ type: 'firm', id: 2, sent: { name }, typed: [], entryPoint: 'api', by: { tokenId } });
    const limit = (allowed: boolean) =>
      serializable(async (client) => {
        const check = {
          checks: [{ formula: 'string length(Title) < 15', hold: 'must', message: 'Too long.', field: 'title' }],
          required: [],
          hidden: [],
          locked: [],
          limits: [],
        };
        const rules = allowed ? rulebook.rules : [...rulebook.rules, rule('short', 'deal', 'validate', check)];
        await insertActivation(
          await insertRelease(await releaseOf({ ...rulebook, rules }, 'short', userId), client),
          'short',
          userId,
          client,
        );
      });
    // Programs are kept by the number of their release: this one is not that of another test.
    await serializable(async (client) => insertRelease(await releaseOf(rulebook, 'skipped', userId), client));
    await limit(false);
    await firm('Fen & Moor & Marsh');
    expect(await followUpsOf('deal', 1)).toEqual({ waiting: true, failed: [] });
    expect(await followUpsOf('deal', 9)).toEqual({ waiting: false, failed: [] });
    const counts = async () => (await failedFollowUps()).counts;
    expect(await counts()).toEqual({ failed: 0, waiting: 1, oldest: expect.any(Date), late: 0 });
    await db().query(`update follow_ups set queued_at = now() - interval '2 minutes'`);
    expect(await counts()).toMatchObject({ waiting: 1, late: 1 });
    await workOffQueue();
    expect(await followUpsOf('deal', 1)).toEqual({ waiting: false, failed: [{ job: 1, text: 'Too long.' }] });
    expect(await failedFollowUps()).toMatchObject({
      counts: { failed: 1, waiting: 0, oldest: null, late: 0 },
      jobs: [{ failures: [{ recordType: 'deal', id: 1 }] }],
    });
    await limit(true);
    expect([await retryFollowUp(1), await retryFollowUp(1)]).toEqual([true, false]);
    await workOffQueue();
    expect(await followUpsOf('deal', 1)).toEqual({ waiting: false, failed: [] });
    expect(await dataOf('deal', 1)).toMatchObject({ title: 'For Fen & Moor & Marsh' });
  });

  it('says of each field who gave it its value last, and what the rules did then', async () => {
    await write('deal', undefined, { given: 'Fen', amount: 1 });
    await write('deal', 1, { amount: 2 });
    const authors = await listFieldAuthors('deal', 1);
    const by = (field: string) => authors.find((a) => a.field === field);
    expect(by('amount')).toMatchObject({ by: 'A', entryPoint: 'form:full', author: { by: 'sent' } });
    expect(by('title')).toMatchObject({ author: { by: 'rule' } });
    const kept = await findWriteTrace('deal', 1, by('title')!.writeId);
    expect(kept?.trace.some((t) => t.outcomes.some((o) => o.field === 'title'))).toBe(true);
    expect(await findWriteTrace('firm', 2, by('title')!.writeId)).toBeUndefined();
  });

  it('is followed by the records that read it, and by values for its children', async () => {
    await write('deal', undefined, { given: 'Fen', amount: 1 });
    await write('firm', 2, { name: 'Fen & Moor', stop: true });
    await workOffQueue();
    expect(await dataOf('deal', 1)).toMatchObject({ title: 'For Fen & Moor', notice: 'under stop' });
    const { rows } = await db().query('select recipient, subject, due is not null as dated from outbox');
    expect(rows).toEqual([{ recipient: 'desk', subject: 'Stop Fen & Moor', dated: true }]);
    expect((await db().query('select from follow_ups')).rowCount).toBe(0);
  });

  it('is followed once requests were answered: they come first', async () => {
    await write('deal', undefined, { given: 'Fen', amount: 25 });
    await write('firm', 2, { name: 'Fen and Daughters' });
    let answer = (): void => undefined;
    const request = asRequest(() => new Promise<void>((done) => (answer = done)));
    const followed = workOffQueue();
    const taken = 'select count(*)::int as n from graphile_worker._private_jobs where locked_at is not null';
    await expect.poll(async () => (await db().query<{ n: number }>(taken)).rows[0]!.n).toBe(1);
    // It would be done by now: a follow-up of one record takes a few of these.
    for (let i = 0; i < 40; i++) await db().query('select 1');
    expect(await dataOf('deal', 1)).toMatchObject({ title: 'For Fen' });
    answer();
    await Promise.all([request, followed]);
    expect(await dataOf('deal', 1)).toMatchObject({ title: 'For Fen and Daughters' });
  });

  it('is followed by records that all change one other: what that comes to is right', async () => {
    await releaseWith(rule('rate', 'deal', 'derive', set('amount', 'string length(Firm.Name)')));
    for (let n = 0; n < 11; n++) await write('deal', undefined, { given: 'Fen' });
    expect(await dataOf('firm', 2)).toMatchObject({ total: 33 });
    await write('firm', 2, { name: 'Fen & Moor' });
    await workOffQueue();
    expect(await dataOf('firm', 2)).toMatchObject({ total: 110 });
    expect((await db().query('select from follow_ups')).rowCount).toBe(0);
  });

  it('is followed by many records in jobs of fifty, each of them once', async () => {
    const deals = 120;
    for (let n = 0; n < deals; n++) await write('deal', undefined, { given: 'Fen', amount: 1 });
    await workOffQueue();
    const jobs = async () =>
      (await db().query<{ n: number }>('select count(*)::int as n from graphile_worker.jobs')).rows[0]!.n;
    await write('firm', 2, { name: 'Fen & Moor' });
    await jobsAskedFor();
    expect(await jobs()).toBe(1);
    await follow((await db().query<{ id: number }>('select id from follow_ups')).rows[0]!.id);
    // Its parts wait for their turn behind what others queued: three of them, and the one that found them.
    expect(await jobs()).toBe(4);
    await workOffQueue();
    const { rows } = await db().query<{ title: string; version: number; n: number }>(
      `select data ->> 'title' as title, version, count(*)::int as n from records where type = 'deal' group by 1, 2`,
    );
    expect(rows).toEqual([{ title: 'For Fen & Moor', version: 2, n: deals }]);
    expect((await db().query('select from follow_ups')).rowCount).toBe(0);
  });
});

describe('indexes of what rules search by', () => {
  const indexes = async () =>
    (
      await db().query<{ n: string }>(`select type || '.' || field || ' ' || mode as n from match_indexes order by 1`)
    ).rows.map((r) => r.n);
  const keys = async (type: string, field: string) =>
    (
      await db().query<{ n: number }>('select count(*)::int as n from match_keys where type = $1 and field = $2', [
        type,
        field,
      ])
    ).rows[0]!.n;

  it('are made by a release and never by a reader, who is answered rightly all the same', async () => {
    const world = new DatabaseSource(db());
    const ask = { kind: 'match', recordType: 'firm', field: 'name', mode: 'folded', value: ' FEN ' } as const;
    expect(await world.read([ask])).toMatchObject([[{ id: '2' }]]);
    expect(await indexes()).toEqual([]);
    await prepareSearches(rulebook);
    expect(await indexes()).toEqual(['deal.firm exact', 'firm.name folded']);
    expect(await keys('firm', 'name')).toBe(2);
    expect(await new DatabaseSource(db()).read([ask])).toMatchObject([[{ id: '2' }]]);
  });

  it('are made for an earlier release that is put back as well', async () => {
    const second = { ...rulebook, name: 'second' };
    await serializable(async (client) =>
      insertActivation(
        await insertRelease(await releaseOf(second, 'second', userId), client),
        'second',
        userId,
        client,
      ),
    );
    expect(await putBack(1, 'why', userId)).toEqual({ number: 1 });
    expect(await indexes()).toEqual(['deal.firm exact', 'firm.name folded']);
  });

  it('lack none of the records that are written while they are made', async () => {
    // Some may be told that the database is busy: those are not there.
    const writes = Array.from({ length: 20 }, (_, i) => write('firm', undefined, { name: `Firm ${i}` }));
    const [, ...results] = await Promise.allSettled([prepareSearches(rulebook), ...writes]);
    const saved = results.filter((r) => r.status === 'fulfilled').length;
    expect(saved).toBeGreaterThan(0);
    expect(await keys('firm', 'name')).toBe(saved + 2);
  });

  it('take texts of any length', async () => {
    await prepareSearches(rulebook);
    const name = 'long '.repeat(40) + 'name';
    expect(await write('firm', undefined, { name: name.slice(0, 250) })).toMatchObject({ outcome: 'saved' });
    const value = name.slice(0, 250).toUpperCase();
    const found = await new DatabaseSource(db()).read([
      { kind: 'match', recordType: 'firm', field: 'name', mode: 'folded', value },
    ]);
    expect(found[0]).toHaveLength(1);
  });
});

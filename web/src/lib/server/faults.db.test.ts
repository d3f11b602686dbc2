/** On a real PostgreSQL: connections that break or hang, and jobs that throw, end nothing but themselves. */
import { setTimeout as sleep } from 'node:timers/promises';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { migrate } from './db/migrate.ts';
import { closePool, db } from './db/pool.ts';
import { serializable } from './db/transaction.ts';
import { BusyError, unavailabilityOf } from './db/unavailable.ts';
import { randomUUID } from 'node:crypto';
import { askForForgottenJobs } from './db/follow-ups.ts';
import { giveBackLostJobs, seeNode } from './db/queue-nodes.ts';
import { workOffQueue } from './jobs/queue.ts';

beforeAll(migrate);
beforeEach(async () => {
  await closePool();
});
afterAll(async () => {
  delete process.env['DATABASE_TIMEOUT'];
  await closePool();
});

const thrownBy = (work: Promise<unknown>): Promise<unknown> =>
  work.then(
    () => undefined,
    (e: unknown) => e,
  );
/** Ends every other connection of this application, as a failover does. */
const endOthers = () =>
  db().query(
    `select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid()`,
  );

describe('a connection that is lost', () => {
  it('while idle is replaced by the next call', async () => {
    await Promise.all(Array.from({ length: 5 }, () => db().query('select pg_sleep(0.05)')));
    await endOthers();
    await sleep(50);
    const answers = await Promise.all(Array.from({ length: 5 }, () => db().query<{ n: number }>('select 1 as n')));
    expect(answers.map((a) => a.rows[0]!.n)).toEqual([1, 1, 1, 1, 1]);
  });

  it('within a transaction is told as the database being away, and its connection never used again', async () => {
    const e = await thrownBy(
      serializable(async (client) => {
        await client.query('select 1');
        await endOthers();
        await client.query('select 1');
      }),
    );
    expect(unavailabilityOf(e)?.message).toMatch(/cannot be reached now/);
    expect(await serializable(async (client) => (await client.query('select 1 as n')).rows)).toEqual([{ n: 1 }]);
  });

  it('never hides what went wrong before it', async () => {
    const e = await thrownBy(
      serializable(async () => {
        await endOthers();
        throw new Error('the cause');
      }),
    );
    expect(e).toEqual(new Error('the cause'));
  });
});

it('a statement that hangs is ended in time, and so is the wait for a connection', async () => {
  process.env['DATABASE_TIMEOUT'] = '200';
  const began = performance.now();
  const e = await thrownBy(db().query('select pg_sleep(20)'));
  expect(unavailabilityOf(e)).toBeDefined();
  expect(performance.now() - began).toBeLessThan(5_000);
  delete process.env['DATABASE_TIMEOUT'];
});

describe('a job that throws', () => {
  const left = async () => (await db().query('select id, failures from follow_ups order by id')).rows as unknown[];
  const jobs = 'graphile_worker._private_jobs';

  beforeEach(async () => {
    await db().query(`truncate follow_ups restart identity`);
    await db().query(`delete from ${jobs}`);
    const good = { dependants: [], childWrites: [], after: {}, depth: 1 };
    for (const work of [{ dependants: [], childWrites: 'none of that' }, good])
      await db().query('select queue_follow_up($1, 0)', [JSON.stringify(work)]);
  });

  it('holds up no other, is tried again later, and after the last time is set aside with an error', async () => {
    await workOffQueue();
    expect(await left()).toEqual([{ id: 1, failures: null }]);
    const { rows } = await db().query(
      `select payload, attempts, run_at > now() as later, locked_by, last_error from ${jobs} order by id`,
    );
    expect(rows, JSON.stringify(rows)).toMatchObject([{ attempts: 1, later: true, locked_by: null }]);
    await db().query(`update ${jobs} set attempts = max_attempts - 1, run_at = now()`);
    await workOffQueue();
    expect(await left()).toEqual([
      { id: 1, failures: [{ text: expect.stringMatching(/failed on our side/) as string }] },
    ]);
  });

  it('is put back before the queue counts as worked off, and the others are off it, however long that takes', async () => {
    await db().query(
      `create function linger() returns trigger language plpgsql as
         $$ begin perform pg_sleep(0.2); return coalesce(new, old); end $$;
       create trigger linger before delete on ${jobs} for each row execute function linger();
       create trigger linger_too before update on ${jobs} for each row
         when (old.locked_by is not null and new.locked_by is null) execute function linger()`,
    );
    await workOffQueue();
    const { rows } = await db().query(`select locked_by from ${jobs}`);
    await db().query(`drop function linger cascade`);
    expect(rows).toEqual([{ locked_by: null }]);
  });

  it('that a killed process had taken is given back once it has been silent', async () => {
    await db().query(`update ${jobs} set locked_at = now(), locked_by = 'killed'`);
    await seeNode(randomUUID(), ['killed']);
    const taken = async () => (await db().query(`select from ${jobs} where locked_by is not null`)).rowCount;
    await giveBackLostJobs(35);
    expect(await taken()).toBe(2);
    await db().query(`update queue_nodes set seen_at = now() - interval '1 minute'`);
    await giveBackLostJobs(35);
    expect(await taken()).toBe(0);
  });

  it.each<[what: string, arrange: string, asked: boolean]>([
    ['has a job that waits', `select`, false],
    ['has one that is under way', `update ${jobs} set locked_at = now(), locked_by = 'another', attempts = 1`, false],
    ['has none', `delete from ${jobs}`, true],
    ['has one that gave up', `update ${jobs} set attempts = max_attempts`, true],
    ['has none and failed for good', `delete from ${jobs}; update follow_ups set failures = '[]'`, false],
  ])(
    'work of a process that ended %s: it is asked for where nobody would do it, after a while',
    async (_, arrange, asked) => {
      await db().query(arrange);
      const revisions = async () =>
        (
          await db().query(
            `select key, revision, attempts < max_attempts as again from ${jobs} where key is not null order by key`,
          )
        ).rows as unknown[];
      const before = await revisions();
      await askForForgottenJobs(35);
      expect(await revisions()).toEqual(before);
      await db().query(`update follow_ups set queued_at = now() - interval '36 seconds'`);
      await askForForgottenJobs(35);
      if (!asked) expect(await revisions()).toEqual(before);
      else expect(await revisions()).toMatchObject(['follow:1', 'follow:2'].map((key) => ({ key, again: true })));
    },
  );
});

describe('what an error means for the one who asked', () => {
  const coded = (code: string, message = 'x') => Object.assign(new Error(message), { code });
  it.each<[string, unknown, boolean]>([
    ['a refused connection', coded('ECONNREFUSED'), true],
    ['several of them', new AggregateError([coded('ECONNREFUSED')]), true],
    ['a shutdown', coded('57P01'), true],
    ['a start', coded('57P03'), true],
    ['a broken protocol', coded('08P01'), true],
    ['a full disk', coded('53100'), true],
    ['one that only reads', coded('25006'), true],
    ['a session that idled too long', coded('57P05'), true],
    ['a wait for a connection', new Error('timeout exceeded when trying to connect'), true],
    ['a lost one', new Error('Connection terminated unexpectedly'), true],
    ['a busy database', new BusyError(), true],
    ['a unique value', coded('23505'), false],
    ['a fault of ours', new TypeError('x is undefined'), false],
    ['no error at all', 'nothing', false],
  ])('%s', (_, e, away) => {
    expect(unavailabilityOf(e) !== undefined).toBe(away);
  });
});

/** On a real PostgreSQL: writes at once come out as if they had come one after the other, and only those wait that meet. */
import { formKey } from '@rigid-rule/core/compile';
import type { RecordData } from '@rigid-rule/core/document';
import fc from 'fast-check';
import { afterAll, beforeAll, beforeEach, expect, it, vi } from 'vitest';
import { askForJobs, jobsAskedFor } from './db/follow-ups.ts';
import { migrate } from './db/migrate.ts';
import { closePool, db, type Queryable } from './db/pool.ts';
import { meetAllWrites } from './db/meeting-points.ts';
import { insertActivation, insertRelease } from './db/releases.ts';
import { OvertakenError, storeWrite, type Work } from './db/store-write.ts';
import { serializable, underLock } from './db/transaction.ts';
import { settleNow, type WriteRequest } from './entry-points/settling.ts';
import { workOf, writeRecord } from './entry-points/write.ts';
import { releaseOf } from './snapshot.ts';
import { workOffQueue } from './jobs/queue.ts';
import { prepareSearches } from './release.ts';
import { beginWithFirms, rulebook } from './testing/firms-and-deals.ts';

let userId: number;
beforeAll(migrate);
afterAll(closePool);
beforeEach(async () => {
  userId = await beginWithFirms();
  await prepareSearches(rulebook);
});

const requestOf = (type: string, id: number | undefined, sent: RecordData): WriteRequest => ({
  type,
  ...(id === undefined ? {} : { id }),
  sent,
  typed: Object.keys(sent),
  entryPoint: formKey('full'),
  by: { userId },
});
const write = (...of: Parameters<typeof requestOf>) => writeRecord(requestOf(...of));

/** What is stored of a write on a record that there is, as it is settled now. */
async function settledWork(type: string, id: number, sent: RecordData, on: Queryable = db()): Promise<Work> {
  const request = requestOf(type, id, sent);
  const settled = await settleNow(on, request, () => Promise.resolve(id));
  if ('refused' in settled) throw new Error('refused');
  return workOf(settled, request, on);
}

const release = () =>
  serializable(async (client) => {
    const number = await insertRelease(await releaseOf({ ...rulebook, name: 'second' }, 'second', userId), client);
    await meetAllWrites(client);
    await insertActivation(number, 'second', userId, client);
  });

/** What has to hold of all records, whatever was done at once: totals and titles that follow. */
async function disagreements(): Promise<unknown[]> {
  const { rows } = await db().query<{ what: string }>(
    `select 'total of ' || f.id as what from records f
      where f.type = 'firm' and coalesce((f.data ->> 'total')::numeric, 0) <> coalesce(
            (select sum((d.data ->> 'amount')::numeric) from records d
              where d.type = 'deal' and d.data ->> 'firm' = f.id::text), 0)
      union all
     select 'title of ' || d.id from records d join records f on f.type = 'firm' and f.id::text = d.data ->> 'firm'
      where d.type = 'deal' and d.data ->> 'title' is distinct from 'For ' || (f.data ->> 'name')`,
  );
  return rows;
}

it('no deal is lost from the totals of its firm, however many are made at once', async () => {
  const results = await Promise.all(
    Array.from({ length: 40 }, (_, i) =>
      write('deal', undefined, { given: i % 2 ? 'Fen' : 'Alder Growers', amount: 1 }),
    ),
  );
  expect(new Set(results.map((r) => r.outcome))).toEqual(new Set(['saved']));
  const { rows } = await db().query(`select data -> 'total' as total from records where type = 'firm' order by id`);
  expect(rows).toEqual([{ total: 20 }, { total: 20 }]);
});

it('records that have nothing to do with each other never wait in vain', async () => {
  const results = await Promise.all(
    Array.from({ length: 200 }, (_, i) => write('firm', undefined, { name: `Firm ${i}` })),
  );
  expect(results.filter((r) => r.outcome === 'saved')).toHaveLength(200);
});

it.each<[string, () => Promise<unknown>]>([
  ['another release went live', () => release()],
  ['the record was written', () => write('deal', 1, { amount: 9 })],
  ['a record that was read has changed', () => write('firm', 2, { stop: true })],
  ['a key finds one more', () => write('firm', undefined, { name: 'Fen' })],
  [
    'there is one more index',
    () => db().query(`insert into match_indexes (type, field, mode) values ('deal', 'title', 'exact')`),
  ],
])('what was settled is not stored where meanwhile %s', async (_, meanwhile) => {
  await write('deal', undefined, { given: 'Fen', amount: 1 });
  const stored = async () =>
    (await db().query(`select data, version from records where type = 'deal'`)).rows as unknown[];
  const work = await settledWork('deal', 1, { given: 'fen' });
  await meanwhile();
  const before = await stored();
  await expect(storeWrite(work, db())).rejects.toThrow(OvertakenError);
  expect(await stored()).toEqual(before);
  // Settled again it is stored.
  expect(await write('deal', 1, { given: 'fen' })).toMatchObject({ outcome: 'saved' });
});

it('those that come at once are stored by one call, all but who was overtaken; who meets another comes next', async () => {
  for (let i = 0; i < 4; i++) await write('firm', undefined, { name: `Firm ${i}` });
  const works = [
    ...(await Promise.all([3, 4, 5, 6].map((id) => settledWork('firm', id, { name: `New ${id}` })))),
    // The same record once more: it meets the first.
    await settledWork('firm', 3, { name: 'Newer' }),
  ];
  await write('firm', 5, { name: 'Meanwhile' });
  const calls = vi.spyOn(db(), 'query');
  const results = await Promise.allSettled(works.map((work) => storeWrite(work, db())));
  const groups = calls.mock.calls.filter(([query]) => (query as { name?: string }).name === 'put-writes');
  calls.mockRestore();
  expect(results.map((r) => r.status)).toEqual(['fulfilled', 'fulfilled', 'rejected', 'fulfilled', 'rejected']);
  expect(groups).toHaveLength(2);
  const { rows } = await db().query(
    `select data ->> 'name' as name from records where type = 'firm' and id > 2 order by id`,
  );
  expect(rows.map((r: { name: string }) => r.name)).toEqual(['New 3', 'New 4', 'Meanwhile', 'New 6']);
});

it('in a transaction no job is made before it is done: it would find nothing to do', async () => {
  await write('deal', undefined, { given: 'Fen', amount: 1 });
  await workOffQueue();
  const jobs = async () => (await db().query('select from graphile_worker.jobs')).rowCount;
  const queued = await underLock(async (client) => {
    const left = await storeWrite(await settledWork('firm', 2, { name: 'Fen & Moor' }, client), client);
    await jobsAskedFor();
    expect([left.length, await jobs()]).toEqual([1, 0]);
    return left;
  });
  askForJobs(queued);
  await workOffQueue();
  expect(await disagreements()).toEqual([]);
});

const name = fc.constantFrom('Fen', 'Alder Growers', 'Moor');
const act = fc.oneof(
  {
    weight: 4,
    arbitrary: fc.record({ do: fc.constant('deal' as const), name, amount: fc.integer({ min: 1, max: 9 }) }),
  },
  { weight: 4, arbitrary: fc.record({ do: fc.constant('move' as const), id: fc.integer({ min: 1, max: 6 }), name }) },
  { weight: 2, arbitrary: fc.record({ do: fc.constant('rename' as const), id: fc.integer({ min: 1, max: 2 }), name }) },
  { weight: 1, arbitrary: fc.record({ do: fc.constant('firm' as const), name }) },
);

it('random writes at once leave totals, matches and what follows as one after the other would', async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(act, { minLength: 4, maxLength: 24 }), async (acts) => {
      userId = await beginWithFirms();
      await prepareSearches(rulebook);
      await Promise.all(
        acts.map((a) => {
          if (a.do === 'deal') return write('deal', undefined, { given: a.name, amount: a.amount });
          if (a.do === 'firm') return write('firm', undefined, { name: a.name });
          if (a.do === 'rename') return write('firm', a.id, { name: a.name });
          return write('deal', a.id, { given: a.name });
        }),
      );
      await workOffQueue();
      expect(await disagreements()).toEqual([]);
    }),
    { numRuns: Number(process.env['MEETING_RUNS'] ?? 15) },
  );
}, 120_000);

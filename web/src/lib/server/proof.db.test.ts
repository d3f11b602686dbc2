/** On a real PostgreSQL: sample sets, what was agreed, drift, and dry runs on live records. */
import { compileProgram } from '@rigid-rule/core/compile';
import { toParts, type RecordData, type Rulebook, type Stored } from '@rigid-rule/core/document';
import { RecordsSource, type RecordQuery, type StoredRecordOf } from '@rigid-rule/core/records';
import { Impact, moving, type ImpactWay } from '@rigid-rule/core/rule-tests';
import { matchModes } from '@rigid-rule/core/values';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { coveredRules } from './agreed.ts';
import { clearAgreements, listAgreements, putAgreement, removeAgreement } from './db/agreements.ts';
import { insertParts } from './db/draft.ts';
import { driftByField, endDrift, findDriftRun, insertDriftRun, listDrift } from './db/drift.ts';
import { insertRecordsAsTheyAre } from './db/load-records.ts';
import { endLiveRun, findLiveRun, listBehind } from './db/live-dry-runs.ts';
import { migrate } from './db/migrate.ts';
import { closePool, db } from './db/pool.ts';
import {
  countSamples,
  countValues,
  deleteSampleSet,
  findSamples,
  insertSamples,
  insertSampleSet,
  listSampleSets,
  loadSamples,
  rememberColumns,
  usualSampleSet,
} from './db/samples.ts';
import { serializable } from './db/transaction.ts';
import { driftingTypes } from './jobs/drift.ts';
import { beginLiveRun } from './jobs/live-dry-run.ts';
import { workOffQueue } from './jobs/queue.ts';
import { releaseDraft } from './release.ts';
import { answerFromSamples } from './sample-source.ts';
import { fingerprint } from './snapshot.ts';
import { beginWithFirms, rule, rulebook, set } from './testing/firms-and-deals.ts';

let userId: number;
beforeAll(migrate);
afterAll(closePool);
beforeEach(async () => (userId = await beginWithFirms()));

describe('sample sets', () => {
  const make = (name: string) => insertSampleSet({ name, source: 'imported', madeBy: userId });

  it('each has its own records; the oldest is the usual one, also for who asks for one that is gone', async () => {
    const [one, two] = [(await make('One'))!, (await make('Two'))!];
    expect(await make('One')).toBeUndefined();
    await insertSamples(one, 'firm', [
      { id: 1, data: { name: 'A' } },
      { id: 2, data: { name: 'B' } },
    ]);
    await insertSamples(two, 'firm', [{ id: 1, data: { name: 'C' } }]);
    await insertSamples(two, 'firm', [{ id: 1, data: { name: 'D' } }]);
    const names = async (id?: number, from?: number, most?: number) =>
      (await loadSamples((await usualSampleSet(id))!, 'firm', from, most)).map((s) => s.data['name']);
    expect([await names(), await names(two), await names(one, 0, 1), await names(one, 1)]).toEqual([
      ['A', 'B'],
      ['D'],
      ['A'],
      ['B'],
    ]);
    expect([await countSamples(one, 'firm'), await countSamples(one, 'site')]).toEqual([2, 0]);
    await rememberColumns(two, 'firm', { Heading: 'name' });
    expect((await listSampleSets()).map((s) => [s.name, s.records, s.columns])).toEqual([
      ['One', { firm: 2 }, {}],
      ['Two', { firm: 1 }, { firm: { Heading: 'name' } }],
    ]);
    expect(await deleteSampleSet(one)).toBe(true);
    expect(await names(one)).toEqual(['D']);
    expect(await deleteSampleSet(one)).toBe(false);
  });

  it('answer what rules ask as the engine would find it among all of them', async () => {
    const set = (await make('Mixed'))!;
    const held: readonly Stored[] = [
      ...[
        'Ann',
        'ANN ',
        'ann b',
        '',
        '5',
        '5.0',
        'true',
        'ann@mail.example.org',
        'x@MAIL.example.org',
        '00351',
        '0035',
      ],
      ...[5, 0.1, 1e21, true, false, null, ['Ann'], ['5', 5 as never], 'ﬁne', 'Straße', 'STRASSE', 'a"b\\c', '%_'],
    ];
    const firms = held.map((name, i) => ({ id: i + 1, data: name === null ? {} : { name, size: String(i % 3) } }));
    await insertSamples(set, 'firm', firms);
    // Neither another set nor another type is mixed in.
    await insertSamples((await make('Other'))!, 'firm', [{ id: 900, data: { name: 'Ann' } }]);
    await insertSamples(set, 'site', [{ id: 901, data: { name: 'Ann' } }]);
    const all = new RecordsSource(firms.map(({ id, data }) => ({ recordType: 'firm', id: String(id), data })));
    const texts = [...held.map(String), 'nobody', '003519', 'y@mail.example.org', 'straße'];
    const asks: RecordQuery[] = [
      ...['1', '3', '900', 'x', '1.5', '99999999999999999999'].map(
        (id) => ({ kind: 'record', recordType: 'firm', id }) as const,
      ),
      ...texts.map((id) => ({ kind: 'children', recordType: 'firm', field: 'name', id }) as const),
      ...['0', '2', '7'].map((id) => ({ kind: 'children', recordType: 'firm', field: 'size', id }) as const),
      ...matchModes.flatMap((mode) =>
        texts.map((value) => ({ kind: 'match', recordType: 'firm', field: 'name', mode, value }) as const),
      ),
    ];
    const answers = await answerFromSamples(set, asks);
    asks.forEach((ask, i) => expect(answers[i], JSON.stringify(ask)).toEqual(all.answer(ask)));
  });

  it('say what they hold and how often, and are found by their title', async () => {
    const set = (await make('Held'))!;
    const firms = [{ name: 'A 1', size: 3 }, { name: 'A%2', size: 3 }, { name: 'b' }];
    await insertSamples(
      set,
      'firm',
      firms.map((data, i) => ({ id: i + 1, data })),
    );
    expect(new Set(await countValues(set, 'firm', ['size']))).toEqual(
      new Set([
        { held: [3], count: 2 },
        { held: [null], count: 1 },
      ]),
    );
    const type = rulebook.recordTypes.find((t) => t.key === 'firm')!;
    const found = async (text: string, most = 20) => (await findSamples(set, type, text, most)).map((s) => s.id);
    expect([await found('a'), await found('%'), await found(''), await found('', 2)]).toEqual([
      [1, 2],
      [2],
      [1, 2, 3],
      [1, 2],
    ]);
  });
});

describe('what was agreed', () => {
  const move = { recordType: 'deal', field: 'title', from: 'blank', to: 'For Fen' };
  const agree = (book: Rulebook, most: number) =>
    putAgreement({ ...move, most, covers: coveredRules(book, 'deal', 'title') }, userId);

  it('is kept once for a move, says by whom, and can be taken back', async () => {
    await agree(rulebook, 3);
    await agree(rulebook, 5);
    expect(await listAgreements()).toMatchObject([{ ...move, most: 5, by: expect.any(String) as string }]);
    await removeAgreement(move);
    expect(await listAgreements()).toEqual([]);
  });

  it('covers the rules that write the field, as they are: others may change', () => {
    const covers = coveredRules(rulebook, 'deal', 'title');
    const changed = (key: string): Rulebook => ({
      ...rulebook,
      rules: rulebook.rules.map((r) => (r.key === key ? { ...r, purpose: 'another' } : r)),
    });
    expect(coveredRules(changed('link'), 'deal', 'title')).toBe(covers);
    expect(coveredRules(changed('title'), 'deal', 'title')).not.toBe(covers);
  });

  it('a release takes it along: what comes next is agreed anew', async () => {
    await agree(rulebook, 3);
    const next = { ...rulebook, rules: [...rulebook.rules, rule('notice', 'deal', 'derive', set('notice', '"x"'))] };
    await serializable((client) => insertParts(toParts(next), client));
    expect(await releaseDraft('Next.', await fingerprint(next), userId)).toMatchObject({ number: 2 });
    expect(await listAgreements()).toEqual([]);
    await serializable(clearAgreements);
  });
});

describe('drift', () => {
  const look = (types: readonly string[]) => serializable((client) => insertDriftRun(1, types, userId, client));

  it('is found heap by heap, with nothing written; what a person holds is told apart', async () => {
    const types = driftingTypes(compileProgram(rulebook));
    expect(types).toContain('deal');
    const before = await db().query('select id, data from records order by type, id');
    // Stored past the rules: a total that is none, and one that a person holds.
    await db().query(`update records set data = data || '{"total": 7}' where type = 'firm'`);
    await db().query(
      `update records set held = '{total}' where type = 'firm' and id = (select min(id) from records where type = 'firm')`,
    );
    const id = await look(types);
    await workOffQueue();
    const run = await findDriftRun(undefined);
    expect(run).toMatchObject({ id, state: 'done', release: 1 });
    expect(run!.done).toBe(run!.total);
    const total = (await driftByField(id)).find((f) => f.field === 'total')!;
    expect(total.records).toBeGreaterThan(0);
    expect(total.held).toBe(1);
    expect(total.since.reduce((n, s) => n + s.records, 0)).toBe(total.records);
    const listed = await listDrift(id, 'firm', 'total', 10);
    expect(listed.filter((l) => !l.held).every((l) => l.stored === 7 && l.settled !== 7)).toBe(true);
    const after = await db().query('select id, data from records order by type, id');
    expect(after.rows.length).toBe(before.rows.length);
  });

  it('ends where it is stopped, and a new look takes the place of the last', async () => {
    const first = await look(['deal', 'firm']);
    await endDrift(first, 'cancelled');
    await workOffQueue();
    expect(await findDriftRun(first)).toMatchObject({ state: 'cancelled', done: 0 });
    const second = await look(['deal', 'firm']);
    expect(await findDriftRun(first)).toBeUndefined();
    await workOffQueue();
    expect(await findDriftRun(second)).toMatchObject({ state: 'done' });
  });
});

describe('a dry run on live records', () => {
  // Another title for those of one firm, a total that is counted twice, and deals that may not be that large.
  const draft: Rulebook = {
    ...rulebook,
    rules: [
      ...rulebook.rules.map((r) =>
        r.key === 'total'
          ? { ...r, outcome: JSON.parse(JSON.stringify(r.outcome).replace('sum(', '2 * sum(')) as unknown }
          : r,
      ),
      rule('large', 'deal', 'validate', {
        checks: [{ hold: 'must', formula: 'Amount = null or Amount < 30', message: 'Too large.', field: 'amount' }],
      }),
    ],
  };
  const everything = async (): Promise<StoredRecordOf[]> => {
    const { rows } = await db().query<{ type: string; id: number; data: RecordData }>(
      `select type, id, data from records order by type, id`,
    );
    return rows.map(({ type, id, data }) => ({ recordType: type, id: String(id), data }));
  };

  const makeDeals = (): Promise<void> =>
    serializable((client) =>
      insertRecordsAsTheyAre(
        'deal',
        Array.from({ length: 60 }, (_, i) => ({
          id: i + 1,
          data: {
            title: `Deal ${i}`,
            given: i % 2 ? 'Fen' : 'alder growers',
            firm: String(1 + (i % 2)),
            amount: i * 10,
          },
        })),
        client,
      ),
    );

  it.each<[ImpactWay, number | null]>([
    ['next save', 1],
    ['as new', 1],
    ['backfill', 1],
    ['next save', null],
  ])('%s against release %s finds what the same rules find in a browser, and changes nothing', async (way, against) => {
    await makeDeals();
    const before = await everything();
    const id = await beginLiveRun({ rulebook: draft, without: '', against, way }, userId);
    await workOffQueue();
    const run = (await findLiveRun(undefined))!;
    expect(run).toMatchObject({ id, state: 'done', done: run.total });
    const world = new RecordsSource(before);
    const baseline = against === null ? 'stored' : compileProgram(rulebook);
    for (const type of rulebook.recordTypes) {
      const impact = new Impact(type, baseline, compileProgram(draft), way, world, run.now);
      const own = before.filter((r) => r.recordType === type.key);
      for (const record of own) impact.add(record);
      expect(moving(run.figures[type.key]!)).toEqual(impact.figures());
      for (const f of impact.figures().fields)
        for (const { from, to } of f.moves)
          expect((await listBehind(id, type.key, { field: f.key, from, to }, 1000)).map((b) => String(b.id))).toEqual(
            impact.movedRecords(f.key, from, to).map((at) => own[at]!.id),
          );
      for (const { text: to, records } of impact.figures().messages)
        expect(await listBehind(id, type.key, { field: null, from: '', to }, 1000)).toHaveLength(records);
    }
    if (way === 'next save' && against !== null) expect(run.figures['deal']!.newlyStopped).toBeGreaterThan(0);
    expect(await everything()).toEqual(before);
  });

  it('with a rule switched off; stopped where somebody stops it; gone with the next', async () => {
    await makeDeals();
    const first = await beginLiveRun({ rulebook: draft, without: 'large', against: 1, way: 'next save' }, userId);
    await workOffQueue();
    expect((await findLiveRun(first))!.figures['deal']).toMatchObject({ newlyStopped: 0 });
    const second = await beginLiveRun({ rulebook: draft, without: '', against: 1, way: 'next save' }, userId);
    await endLiveRun(second, 'cancelled');
    await workOffQueue();
    expect(await findLiveRun(second)).toMatchObject({ state: 'cancelled', done: 0 });
    expect(await findLiveRun(first)).toBeUndefined();
  });
});

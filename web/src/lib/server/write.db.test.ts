/** On a real PostgreSQL: what must hold about writes, edits and releases whatever happens at the same time. */
import { findingsOf } from '@rigid-rule/core/analysis';
import { compileProgram } from '@rigid-rule/core/compile';
import {
  applyPatch,
  canonicalJson,
  creating,
  removing,
  toParts,
  type RecordData,
  type Rule,
  type Rulebook,
  type Stored,
} from '@rigid-rule/core/document';
import { fieldTypes } from '@rigid-rule/core/language';
import { draft, firstRelease } from '@rigid-rule/demo';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { signIn } from './auth/sign-in.ts';
import type { SentEdit } from '../draft-protocol.ts';
import { editParts, insertParts } from './db/draft.ts';
import { loadDraft } from './db/draft-state.ts';
import { migrate } from './db/migrate.ts';
import { closePool, db } from './db/pool.ts';
import { listRecords } from './db/record-lists.ts';
import { insertRecordsAsTheyAre } from './db/load-records.ts';
import { findRecord, listHistory } from './db/records.ts';
import { readFilters } from '../list-filters.ts';
import { insertActivation, insertRelease, listActivations } from './db/releases.ts';
import { serializable } from './db/transaction.ts';
import { forgetOldWriteKeys } from './db/write-keys.ts';
import { fingerprint as fingerprintOf, releaseOf } from './snapshot.ts';
import { writeRecord } from './entry-points/write.ts';
import type { WriteInput, WriteRequest } from './entry-points/settling.ts';
import { withWriteKey } from './entry-points/write-key.ts';
import type { WayIn } from './entry-points/way-in.ts';
import { aToken } from './testing/a-token.ts';
import { csvResponse } from './csv-response.ts';
import { recordLines } from './record-csv.ts';
import type { Against } from '../features/release/changes.ts';
import { changesOfRelease } from './release-changes.ts';
import { putBack, releaseDraft } from './release.ts';
import { currentDraft } from './rulebook.ts';
import { anAuthor, author } from './testing/an-author.ts';
import { emptyInstallation } from './testing/empty-tables.ts';

let userId: number;
const customer = draft.recordTypes[0]!;

beforeAll(async () => {
  await migrate();
  await migrate(); // a second time changes nothing
});
afterAll(closePool);

beforeEach(async () => {
  await emptyInstallation();
  userId = await anAuthor();
  await serializable(async (client) => {
    const number = await insertRelease(await releaseOf(firstRelease, 'first', userId), client);
    await insertActivation(number, 'first', userId, client);
    await insertParts(toParts(draft), client);
    await insertRecordsAsTheyAre(
      'customer',
      [
        { id: 1, data: { name: 'Alder', employee_count: 5, size_class: 'micro', credit_limit: 5000 } },
        { id: 2, data: { name: 'Fen', employee_count: 40 } },
        { id: 3, data: { name: 'Zinnia 100%' } },
      ],
      client,
    );
  });
});

const change = (sent: Record<string, unknown>, more: Partial<WriteInput> = {}, way?: WayIn) =>
  writeRecord({
    type: 'customer',
    id: 1,
    sent,
    typed: Object.keys(sent),
    ...more,
    ...(way ?? { entryPoint: 'form:full', by: { userId } }),
  });

const putLive = (rulebook: Rulebook) =>
  serializable(async (client) => {
    const number = await insertRelease(await releaseOf(rulebook, 'a test', userId), client);
    await insertActivation(number, 'a test', userId, client);
  });

/** What a form with one field shows. */
const seen = (data: RecordData): NonNullable<WriteInput['seen']> => ({
  fields: ['size_class'],
  data,
  states: { size_class: { locked: 'size-class-from-employee-count' } },
  messages: [],
  verdict: 'saved',
});

describe('what only the database knows', () => {
  const uniqueName = {
    ...firstRelease,
    recordTypes: firstRelease.recordTypes.map((t) =>
      t.key === 'customer' ? { ...t, fields: t.fields.map((f) => (f.key === 'name' ? { ...f, unique: true } : f)) } : t,
    ),
  };
  const release = () => putLive(uniqueName);

  it.each<[string, string, Partial<WriteInput>, RegExp]>([
    ['a record that is not there', 'main_contact', { sent: { main_contact: '77' } }, /^There is no contact 77\.$/],
    ['an id that is none', 'main_contact', { sent: { main_contact: 'Ana' } }, /^There is no contact Ana\.$/],
    ['a value that another record has', 'name', { sent: { name: 'Fen' } }, /^Customer 2 has this Name already/],
  ])('%s is refused at its field, at every entry point', async (_, field, more, says) => {
    await release();
    const ways: readonly WayIn[] = [
      { entryPoint: 'form:full', by: { userId } },
      { entryPoint: 'api', by: { tokenId: await aToken(userId) } },
      { entryPoint: 'rule', by: null },
    ];
    for (const way of ways) {
      const result = await change(more.sent!, more, way);
      const messages = 'settlement' in result ? result.settlement.messages : [];
      expect([result.outcome, messages.map((m) => m.field)]).toEqual(['stopped', [field]]);
      expect(messages[0]!.text).toMatch(says);
    }
    expect((await findRecord('customer', 1))?.version).toBe(1);
  });

  it('a value that a program holds stays until it is handed back to its rule', async () => {
    // Compiled releases are kept by number: this one has a number of its own.
    await release();
    const rules = uniqueName.rules.map((r) =>
      r.key === 'size-class-from-employee-count' ? { ...r, winner: 'person' as const } : r,
    );
    await serializable(async (client) => {
      const number = await insertRelease(await releaseOf({ ...uniqueName, rules }, 'persons win', userId), client);
      await insertActivation(number, 'persons win', userId, client);
    });
    const program: WayIn = { entryPoint: 'api', by: { tokenId: await aToken(userId) } };
    const sizeAfter = async (sent: Record<string, unknown>, more: Partial<WriteInput> = {}) => {
      await change(sent, { typed: [], ...more }, program);
      return (await findRecord('customer', 1))?.data['size_class'];
    };
    expect(await sizeAfter({ size_class: 'large' }, { hold: true, typed: ['size_class'] })).toBe('large');
    expect(await sizeAfter({ employee_count: 6 })).toBe('large');
    expect(await sizeAfter({}, { handBack: ['size_class'] })).toBe('micro');
    expect(await sizeAfter({ employee_count: 60 })).toBe('medium');
  });

  it('of two new records with one unique value at the same time one is refused', async () => {
    await release();
    const tokenId = await aToken(userId);
    const create = () =>
      writeRecord({ type: 'customer', sent: { name: 'Twin' }, typed: [], entryPoint: 'api', by: { tokenId } });
    const outcomes = (await Promise.all([create(), create(), create()])).map((r) => r.outcome);
    expect(outcomes.sort()).toEqual(['saved', 'stopped', 'stopped']);
    expect((await create()).outcome).toBe('stopped');
  });

  it('what is sent again by the same key is done once, at the same time too, and is no other write', async () => {
    const tokenId = await aToken(userId);
    const create = (name: string, key: string, by: WayIn['by'] = { tokenId }) =>
      writeRecord(
        withWriteKey({ type: 'customer', sent: { name }, typed: [], entryPoint: 'api', by } as WriteRequest, key),
      );
    const made = await Promise.all(Array.from({ length: 6 }, () => create('Twin', 'a key')));
    expect(new Set(made.map((r) => r.outcome === 'saved' && r.id)).size).toBe(1);
    const [first] = made;
    expect(await create('Twin', 'a key')).toMatchObject({ ...first, settlement: { data: { name: 'Twin' } } });
    expect(await create('Another', 'a key')).toEqual({ outcome: 'key used' });
    expect(await create('Twin', 'another key')).toMatchObject({ outcome: 'saved' });
    expect(await create('Twin', 'a key', { tokenId: await aToken(userId) })).toMatchObject({ outcome: 'saved' });
    const { rows } = await db().query(`select 1 from records where data ->> 'name' = 'Twin'`);
    expect(rows).toHaveLength(3);
  });

  it('a change that is sent again gives the record as it is by now, with what was told, and does not change it again', async () => {
    const size = firstRelease.rules.find((r) => r.key === 'size-class-from-employee-count')!;
    const check = { hold: 'should', formula: 'Employee count < 50', message: 'Many hands.', field: 'employee_count' };
    const outcome = { checks: [check], required: [], hidden: [], locked: [], limits: [] };
    const warns: Rule = { ...size, key: 'many-hands', name: 'Many hands', kind: 'validate', outcome };
    await putLive({ ...firstRelease, rules: [...firstRelease.rules, warns] });
    const send = () => {
      const [type, sent] = ['customer', { employee_count: 60 }];
      const way = { entryPoint: 'form:full', by: { userId } } as const;
      return writeRecord(withWriteKey({ type, id: 1, versions: [1], sent, typed: Object.keys(sent), ...way }, 'k'));
    };
    const messages = [{ severity: 'warn', field: 'employee_count', text: 'Many hands.' }];
    expect(await send()).toMatchObject({ outcome: 'saved', version: 2, settlement: { messages } });
    await change({ employee_count: 7 });
    const now = { data: { employee_count: 7 }, messages };
    expect(await send()).toMatchObject({ outcome: 'saved', version: 3, settlement: now });
    await db().query(`update write_keys set at = now() - interval '8 days'`);
    await forgetOldWriteKeys();
    expect((await send()).outcome).toBe('changed meanwhile');
  });

  it('a value may stay with the record that has it', async () => {
    await release();
    expect(await change({ name: 'Alder', employee_count: 7 })).toMatchObject({ outcome: 'saved' });
  });
});

describe('a write', () => {
  it('is settled by the live release, stored with its history, and gets a version', async () => {
    expect(await change({ employee_count: 210 })).toMatchObject({ outcome: 'saved', version: 2, release: 1 });
    expect((await findRecord('customer', 1))?.data).toMatchObject({ size_class: 'large' });
    expect(await listHistory('customer', 1)).toMatchObject([
      {
        by: 'A',
        release: 1,
        entryPoint: 'form:full',
        changes: [
          { field: 'employee_count' },
          { field: 'size_class', author: { rule: 'size-class-from-employee-count' } },
        ],
      },
    ]);
  });

  it('that is stopped leaves nothing behind', async () => {
    expect(await change({ employee_count: 'many', postcode: '1' })).toMatchObject({ outcome: 'stopped' });
    expect(await findRecord('customer', 1)).toMatchObject({ version: 1, data: { employee_count: 5 } });
    expect(await listHistory('customer', 1)).toEqual([]);
  });

  it.each<[string, Partial<WriteInput>, object, WayIn?]>([
    ['an old version', { versions: [7, 8] }, { outcome: 'changed meanwhile' }],
    ['no record', { id: 99 }, { outcome: 'no record' }],
    ['no type', { type: 'barn' }, { outcome: 'no type' }],
    ['a form that there is not', {}, { outcome: 'no entry point' }, { entryPoint: 'form:nope', by: null! }],
    ['nobody’s write by a form', {}, { outcome: 'no entry point' }, { entryPoint: 'form:full', by: null! }],
    [
      'an entry point that is not open',
      {},
      { outcome: 'no entry point' },
      { entryPoint: 'import' as 'rule', by: null },
    ],
    [
      'a person’s write by the API',
      {},
      { outcome: 'no entry point' },
      { entryPoint: 'api', by: { userId: 1 } as never },
    ],
    [
      'a value that was seen otherwise',
      { seen: seen({ size_class: 'small' }) },
      { outcome: 'differs', differences: [{ what: 'value', field: 'size_class', from: 'small', to: 'medium' }] },
    ],
    [
      'a lock that was not seen',
      { seen: { ...seen({ size_class: 'medium' }), states: {} } },
      { outcome: 'differs', differences: [{ what: 'state', field: 'size_class', text: 'Size class is locked' }] },
    ],
    [
      'a message that was seen and is none',
      { seen: { ...seen({ size_class: 'medium' }), messages: [{ severity: 'warn', text: 'Beware.' }] } },
      { outcome: 'differs', differences: [{ what: 'message', gone: true, text: 'Beware.' }] },
    ],
  ])('on %s is not taken', async (_, more, outcome, way) => {
    expect(await change({ employee_count: 60 }, more, way)).toMatchObject(outcome);
  });

  it('whose rules work longer than they may fails in words, and nothing is saved', async () => {
    const busy = 'if count(for i in 1..100000 return Employee count) > 1 then "Large" else "Small"';
    const outcome = { steps: [{ target: 'size_class', scratch: '', formula: busy, blank: 'clear' }] };
    await putLive({
      ...firstRelease,
      rules: firstRelease.rules.map((r) =>
        r.key === 'size-class-from-employee-count' ? ({ ...r, kind: 'derive', outcome } as Rule) : r,
      ),
    });
    process.env['WRITE_TIME'] = '1';
    const result = await change({ employee_count: 60 });
    delete process.env['WRITE_TIME'];
    expect(result).toMatchObject({ outcome: 'stopped' });
    expect('settlement' in result && result.settlement.messages.map((m) => m.text)).toEqual([
      expect.stringMatching(/takes too long: the rules have 1 ms for one write/),
    ]);
    expect((await findRecord('customer', 1))?.version).toBe(1);
    process.env['WRITE_TIME'] = '60000';
    expect(await change({ employee_count: 60 })).toMatchObject({ outcome: 'saved' });
    delete process.env['WRITE_TIME'];
  });

  it('of twenty at once on one record: none is lost, versions count up', async () => {
    const results = await Promise.allSettled(Array.from({ length: 20 }, (_, i) => change({ employee_count: 100 + i })));
    const saved = results.filter((r) => r.status === 'fulfilled' && r.value.outcome === 'saved').length;
    expect(saved).toBeGreaterThan(0);
    expect((await findRecord('customer', 1))?.version).toBe(saved + 1);
    expect(await listHistory('customer', 1)).toHaveLength(saved);
  });
});

describe('an edit of the draft', () => {
  const ref = { kind: 'rule', key: 'size-class-from-employee-count' } as const;
  const edit = (...edits: SentEdit[]) =>
    editParts(edits, { user: { id: userId, name: 'A' }, page: 'p', check: () => undefined });
  const reword = (version: number, value: string) =>
    edit({ ...ref, version, operations: [{ op: 'replace', path: '/purpose', value }] });

  it('by two people on one version: the second is shown the first', async () => {
    expect(await reword(1, 'mine')).toEqual({ outcome: 'saved', versions: [{ ...ref, version: 2 }] });
    expect(await reword(1, 'theirs')).toMatchObject({
      outcome: 'clash',
      clashes: [{ ...ref, by: 'A', part: { version: 2, body: { purpose: 'mine' } } }],
    });
  });

  it('of several parts is stored whole or not at all', async () => {
    const made = { kind: 'table', key: 'colours', version: 0, operations: [creating({ key: 'colours' })] } as const;
    const stale = { ...ref, version: 7, operations: [{ op: 'replace', path: '/purpose', value: 'x' }] } as const;
    expect(await edit(made, stale)).toMatchObject({ outcome: 'clash' });
    expect((await loadDraft()).parts.some((p) => p.key === 'colours')).toBe(false);
  });

  it('makes a part, moves it, takes it away; a second one made under its key clashes', async () => {
    const made = {
      kind: 'table',
      key: 'colours',
      version: 0,
      position: 4,
      operations: [creating({ key: 'colours' })],
    } as const;
    expect(await edit(made)).toMatchObject({ outcome: 'saved', versions: [{ version: 1 }] });
    expect(await edit(made)).toMatchObject({ outcome: 'clash', clashes: [{ part: { version: 1 } }] });
    await edit({ kind: 'table', key: 'colours', version: 1, position: 2.5, operations: [] });
    expect((await loadDraft()).parts.find((p) => p.key === 'colours')).toMatchObject({ position: 2.5, version: 2 });
    await edit({ kind: 'table', key: 'colours', version: 2, operations: [removing] });
    expect((await loadDraft()).parts.some((p) => p.key === 'colours')).toBe(false);
    expect(await edit({ kind: 'table', key: 'colours', version: 2, operations: [removing] })).toMatchObject({
      outcome: 'clash',
    });
  });

  it('that comes a second time, after a closed tab, is done once and is no clash', async () => {
    const id = '5f0e2a52-6c1b-4f6e-9d55-0a7b3f1c2d4e';
    const made = { kind: 'table', key: 'colours', version: 0, operations: [creating({ key: 'colours' })], id } as const;
    for (let i = 0; i < 2; i++)
      expect(await edit(made)).toMatchObject({ outcome: 'saved', versions: [{ version: 1 }] });
    const { rows } = await db().query<{ n: number }>('select count(*)::int as n from draft_edits');
    expect(rows).toEqual([{ n: 1 }]);
    expect(await edit({ ...made, id: '5f0e2a52-6c1b-4f6e-9d55-0a7b3f1c2d4f' })).toMatchObject({ outcome: 'clash' });
  });

  it('keeps its inverse', async () => {
    await reword(1, 'mine');
    const { rows } = await db().query<{ inverse: unknown }>('select inverse from draft_edits');
    const before = toParts(draft).find((p) => p.kind === 'rule')!.body as { purpose: string };
    expect(rows).toEqual([{ inverse: [{ op: 'replace', path: '/purpose', value: before.purpose }] }]);
  });

  it('gives back the rulebook that was put in', async () => {
    expect(canonicalJson((await currentDraft()).rulebook)).toBe(canonicalJson(draft));
    expect((await loadDraft()).parts.every((p) => p.version === 1)).toBe(true);
  });
});

describe('a release', () => {
  /** The draft with what has to be put right put right: a country that stands twice. */
  const sound = (() => {
    const [found] = findingsOf(compileProgram(draft)).filter((f) => f.severity === 'error');
    const [edit] = found!.repair!.edits;
    const tables = draft.tables!.map((t) => (t.key === edit!.part.key ? applyPatch(t, edit!.operations).value : t));
    return { ...draft, tables };
  })();
  const put = (rulebook: typeof draft) =>
    serializable(async (client) => {
      await client.query('delete from draft_parts');
      await insertParts(toParts(rulebook), client);
    });
  let fingerprint: string;
  beforeEach(async () => {
    fingerprint = await fingerprintOf(sound);
    await put(sound);
  });

  const sizeRule = 'size-class-from-employee-count';

  it('with an error in it is refused, naming it', async () => {
    await put(draft);
    const result = await releaseDraft('x', await fingerprintOf(draft), userId);
    expect(result).toMatchObject({ problem: expect.stringMatching(/Put right first: .* again in row/) as string });
    expect(await listActivations()).toHaveLength(1);
  });

  it('with a part that has not its shape is refused as well, in words', async () => {
    const [table, ...tables] = sound.tables!;
    const malformed = { ...sound, tables: [{ ...table!, rows: 'none' as never }, ...tables] };
    await put(malformed);
    const result = await releaseDraft('x', await fingerprintOf(malformed), userId);
    expect(result).toMatchObject({ problem: expect.stringMatching(/Put right first: /) as string });
  });

  it('whose tests fail wants a reason, which is kept', async () => {
    const test = sound.tests!.find((t) => !t.family);
    const tests = sound.tests!.filter((t) => t !== test);
    const failing = { ...sound, tests: [{ ...test!, expect: { ...test!.expect, verdict: 'failed' } }, ...tests] };
    await put(failing);
    const print = await fingerprintOf(failing);
    expect(await releaseDraft('x', print, userId)).toMatchObject({
      problem: expect.stringMatching(/A test fails: write why/) as string,
    });
    expect(await releaseDraft('x', print, userId, 'Known since May.')).toEqual({ number: 2 });
    const { rows } = await db().query<{ detail: object }>(`select detail from audit_log where action = 'released'`);
    expect(rows[0]!.detail).toMatchObject({ failing: [test!.name], reason: 'Known since May.' });
  });

  it('is made once, even when two releasers press at once', async () => {
    const results = await Promise.all([
      releaseDraft('one', fingerprint, userId),
      releaseDraft('two', fingerprint, userId),
    ]);
    expect(results.filter((r) => 'number' in r)).toEqual([{ number: 2 }]);
    expect(await releaseDraft('again', fingerprint, userId)).toMatchObject({
      problem: expect.stringContaining('same as release 2') as string,
    });
  });
  it('of a draft that nobody read is refused', async () => {
    expect(await releaseDraft('x', 'f'.repeat(64), userId)).toHaveProperty('problem');
  });
  it('says what it changed about the one before, and what putting it back would change', async () => {
    await releaseDraft('two', fingerprint, userId);
    const about = async (number: number, against: Against) => {
      const changes = await changesOfRelease(number, against);
      return changes && changes.part(0, 2000).changes.map((c) => `${c.what} ${c.part.key}`);
    };
    const boundary = (await changesOfRelease(2, 'before'))!.part(0, 2000).changes.find((c) => c.part.key === sizeRule)!;
    expect(boundary.phrases).toEqual(['boundary 200 → 250, where Large begins']);
    expect([boundary.before?.key, boundary.after?.key]).toEqual([sizeRule, sizeRule]);
    expect((await changesOfRelease(1, 'live'))!.phrases(0, 0, 9)).toEqual(['boundary 250 → 200, where Large begins']);
    expect(await about(2, 'live')).toEqual([]);
    expect(new Set((await about(1, 'before'))!.map((line) => line.split(' ')[0]))).toEqual(new Set(['added']));
    expect(await about(3, 'before')).toBeUndefined();
    // What it changed is what its releaser read: about what was live then, not the number before.
    await putBack(1, 'why', userId);
    await put({ ...sound, name: 'Third' });
    expect(await releaseDraft('three', await fingerprintOf({ ...sound, name: 'Third' }), userId)).toEqual({
      number: 3,
    });
    expect(await about(3, 'before')).toEqual(expect.arrayContaining([`changed ${sizeRule}`]));
    expect((await changesOfRelease(2, 'before'))!.phrases(4000, 0, 9)).toBeUndefined();
  });

  it('is put back without touching the snapshots', async () => {
    await releaseDraft('two', fingerprint, userId);
    expect(await putBack(1, 'why', userId)).toEqual({ number: 1 });
    expect(await putBack(1, 'why', userId)).toHaveProperty('problem');
    expect(await putBack(7, 'why', userId)).toHaveProperty('problem');
    expect((await listActivations()).map((a) => a.release)).toEqual([1, 2, 1]);
    for (const table of ['releases', 'activations', 'audit_log'])
      await expect(db().query(`delete from ${table}`)).rejects.toThrow(/append-only/);
  });
});

describe('the list of records', () => {
  const filtered = (query: string) => ({ filters: readFilters(customer, new URLSearchParams(query)) });
  const list = (more: object) =>
    listRecords(
      customer,
      { search: '', filters: [], zone: 'UTC', sort: 'name', descending: false, offset: 0, limit: 10, ...more },
      draft.recordTypes,
    );
  beforeEach(async () => {
    await db().query(
      `update records set data = data || case id when 1 then '{"crops":["apples","grapes"],"main_contact":"1"}'::jsonb else '{"main_contact":"2"}'::jsonb end where id < 3`,
    );
    await serializable((client) =>
      insertRecordsAsTheyAre(
        'contact',
        [
          { id: 1, data: { first_name: 'Zoe', last_name: 'Zed' } },
          { id: 2, data: { first_name: 'Ada', last_name: 'Abe' } },
        ],
        client,
      ),
    );
  });
  it.each<[string, object, number[]]>([
    ['by name', {}, [1, 2, 3]],
    ['by number, blank last', { sort: 'employee_count', descending: true }, [2, 1, 3]],
    ['by option, in its order', { sort: 'size_class' }, [1, 2, 3]],
    ['by no such field', { sort: `name'; drop table records; --` }, [1, 2, 3]],
    ['with a percent sign, taken literally', { search: '100%' }, [3]],
    ['with an underscore, taken literally', { search: 'A_der' }, []],
    ['of one class', filtered('only.size_class=micro'), [1]],
    ['of a blank class', filtered('only.size_class='), [2, 3]],
    ['a window of it', { offset: 1, limit: 1 }, [2]],
    ['with one of some crops', filtered('only.crops=grapes,pears'), [1]],
    ['without crops', filtered('only.crops='), [2, 3]],
    ['of one crop, or blank', filtered('only.crops=apples,'), [1, 2, 3]],
    ['from a number', filtered('from.employee_count=10'), [2]],
    ['up to a number', filtered('to.employee_count=9'), [1]],
    ['without a number', filtered('is.employee_count=blank'), [3]],
    ['with a number', filtered('is.employee_count=filled'), [1, 2]],
    ['by part of a name, in any case', filtered('has.name=100%25'), [3]],
    ['by part of the name of what it links to', filtered('has.main_contact=abe'), [2]],
    ['of what is no field, or no bound', filtered('has.nothing=x&from.employee_count=ten&only.name=x'), [1, 2, 3]],
    ['by crops, in the order of the options', { sort: 'crops' }, [1, 2, 3]],
    ['by a link, by the name of what it links to', { sort: 'main_contact' }, [2, 1, 3]],
  ])('%s', async (_, more, ids) => {
    expect((await list(more)).rows.map((r) => r.id)).toEqual(ids);
  });

  const levels = ['Low', 'Mid', 'High'].map((name) => ({ key: name.toLowerCase(), name }));
  it.each(fieldTypes.filter((t) => !t.links && !t.users).map((t) => [t.key, t] as const))(
    'sorts values of %s as they compare, blank ones last',
    async (key, type) => {
      const field = { key: 'any', name: 'Any', type: key, ...(type.chooses ? { options: levels } : {}) };
      const types = draft.recordTypes.map((t) => (t.key === 'customer' ? { ...t, fields: [...t.fields, field] } : t));
      const typed = [
        'a',
        'B',
        'c1@fen.example',
        'Z',
        'é',
        '10',
        '9',
        '-3',
        '1e3',
        true,
        false,
        type.example,
        ['high'],
        ['low', 'high'],
      ];
      const values = [
        ...type.boundaryValues(field),
        ...typed.flatMap((v) => {
          const coerced = type.coerce(v, field);
          return 'value' in coerced && coerced.value !== null ? [coerced.value] : [];
        }),
      ];
      await serializable((client) =>
        insertRecordsAsTheyAre(
          'customer',
          values.map((any, i) => ({ id: 100 + i, data: { name: 'X', any } })),
          client,
        ),
      );
      // What lies between two bounds, where they are values themselves.
      for (const bound of type.bounds && !type.instant ? values : []) {
        const filters = readFilters(types[0]!, new URLSearchParams({ 'from.any': String(bound) }));
        const asked = { search: '', filters, zone: 'UTC', sort: 'any', descending: false, offset: 0, limit: 100 };
        const found = await listRecords(types[0]!, asked, types);
        const within = values.filter((v) => type.compare(v, bound, field) >= 0);
        expect([bound, found.rows.length]).toEqual([bound, within.length]);
      }
      for (const descending of [false, true]) {
        const asked = { search: '', filters: [], zone: 'UTC', sort: 'any', descending, offset: 0, limit: 100 };
        const found = (await listRecords(types[0]!, asked, types)).rows.map((r) => r.data['any'] ?? null);
        expect(found).toHaveLength(values.length + 3);
        expect(found.slice(values.length)).toEqual([null, null, null]);
        const sorted = found.slice(0, values.length) as Stored[];
        for (const [i, v] of sorted.slice(1).entries())
          expect([sorted[i], v, type.compare(sorted[i]!, v, field) * (descending ? -1 : 1) <= 0]).toEqual([
            sorted[i],
            v,
            true,
          ]);
      }
    },
  );

  it('sorts and bounds durations by their length, and takes what is still of another type as blank', async () => {
    const every = { key: 'every', name: 'Every', type: 'duration' };
    const types = draft.recordTypes.map((t) => (t.key === 'customer' ? { ...t, fields: [...t.fields, every] } : t));
    await db().query(
      `update records set data = data || jsonb_build_object('every', (array['PT36H', 'P1D', 'soon'])[id]) where type = 'customer'`,
    );
    const ids = async (descending: boolean, asks = ''): Promise<number[]> => {
      const filters = readFilters(types[0]!, new URLSearchParams(asks));
      const asked = { search: '', filters, zone: 'UTC', sort: 'every', descending, offset: 0, limit: 10 };
      return (await listRecords(types[0]!, asked, types)).rows.map((row) => row.id);
    };
    expect(await ids(false)).toEqual([2, 1, 3]);
    expect(await ids(true)).toEqual([1, 2, 3]);
    expect(await ids(false, 'from.every=P1DT1H')).toEqual([1]);
    expect(await ids(false, 'to.every=P1D')).toEqual([2]);
    expect(await ids(false, 'from.every=P1D&to.every=P1DT12H')).toEqual([2, 1]);
    // Not the form that is stored: no bound.
    expect(await ids(false, 'from.every=PT36H')).toEqual([2, 1, 3]);
  });

  it('as a file: names, neutral numbers, and nothing that a spreadsheet runs', async () => {
    await db().query(`update records set data = data || '{"name":"=1+1","employee_count":-5}'::jsonb where id = 2`);
    await db().query(`update records set data = data || '{"name":"-3 rows, \\"x\\""}'::jsonb where id = 3`);
    const url = new URL('http://x/?sort=employee_count&cols=name,employee_count,size_class,main_contact');
    const { head, pieces } = recordLines(draft, customer, url);
    const bytes = await (await csvResponse(head, pieces, 'x')).arrayBuffer();
    expect(new TextDecoder('utf-8', { ignoreBOM: true }).decode(bytes).split('\r\n')).toEqual([
      '\ufeffName,Employee count,Size class,Main contact',
      `"'=1+1",-5,,Ada Abe`,
      'Alder,5,Micro,Zoe Zed',
      `"'-3 rows, ""x""",,,`,
      '',
    ]);
  });

  it('of an instant, by days of the organisation', async () => {
    // 31 July, 23:30 UTC is 1 August in Lisbon.
    await db().query(
      `insert into records (type, id, data) values ('deal', 1, '{"title":"x","stage_changed_at":"2026-07-31T23:30:00Z"}')`,
    );
    const deal = draft.recordTypes.find((t) => t.key === 'deal')!;
    const on = async (day: string, zone: string) => {
      const filters = readFilters(
        deal,
        new URLSearchParams({ 'from.stage_changed_at': day, 'to.stage_changed_at': day }),
      );
      const request = { search: '', filters, zone, sort: 'title', descending: false, offset: 0, limit: 10 };
      return (await listRecords(deal, request)).total;
    };
    const days = ['2026-07-31', '2026-08-01'] as const;
    expect(await Promise.all(days.map((d) => on(d, 'Europe/Lisbon')))).toEqual([0, 1]);
    expect(await Promise.all(days.map((d) => on(d, 'UTC')))).toEqual([1, 0]);
  });
});

describe('signing in', () => {
  const wrong = { problem: expect.stringContaining('do not belong') as string };
  const tooMany = { problem: expect.stringContaining('Too many') as string };
  const guess = (place: string, email = 'A@B.example') => signIn(email, 'wrong', place);

  it('waits after eight failures, also with the right password, and is open again in seconds where it was done before', async () => {
    expect(await signIn(author.email, author.password, 'here')).toHaveProperty('user');
    for (let i = 0; i < 8; i++) expect(await guess('here')).toMatchObject(wrong);
    expect(await signIn(author.email, author.password, 'here')).toMatchObject(tooMany);
    await db().query(`update sign_in_failures set at = at - interval '9 seconds'`);
    expect(await signIn(author.email, author.password, 'here')).toHaveProperty('user');
  });

  it('many guesses at once are looked at no more often than one after the other', async () => {
    const answers = await Promise.all(Array.from({ length: 14 }, () => guess('anywhere')));
    expect(answers.filter((a) => 'problem' in a && a.problem.includes('do not belong'))).toHaveLength(8);
  });

  it('guesses made elsewhere, or by others behind the same proxy, shut nobody out of a known place', async () => {
    expect(await signIn(author.email, author.password, 'here')).toHaveProperty('user');
    await db().query(
      `insert into sign_in_failures (subject)
       select s from unnest(array['email:a@b.example', 'place:here', 'pair:a@b.example:there']) s, generate_series(1, 200)`,
    );
    expect(await guess('there')).toMatchObject(tooMany);
    expect(await guess('here', 'other@b.example')).toMatchObject(tooMany);
    expect(await signIn(author.email, author.password, 'here')).toHaveProperty('user');
  });
});

/** On a real PostgreSQL: what an operator relies on. Rights of the application's role, repair, backup and restore, sessions. */
import { creating } from '@rigid-rule/core/document';
import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import pg from 'pg';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { main } from './admin/main.ts';
import { verify } from './admin/verify.ts';
import { createSecret, digestOf } from './auth/secret.ts';
import { isSetupToken, openSetup, closeSetup } from './auth/setup-token.ts';
import { draftStamp, editParts } from './db/draft.ts';
import { migrate } from './db/migrate.ts';
import { listenerName, notify, stopListening } from './db/notices.ts';
import { closePool, connectionSettings, db } from './db/pool.ts';
import { loadRelease, readSnapshot } from './db/releases.ts';
import { appendOnly, grantRights } from './db/rights.ts';
import { deleteOtherSessions, findSessionUser, insertSession, listSessions, sessionsInForce } from './db/sessions.ts';
import { insertToken, useToken } from './db/tokens.ts';
import { withToken } from './entry-points/api.ts';
import { writeRecord } from './entry-points/write.ts';
import { hearDraftEdits, stopHearing } from './draft-events.ts';
import { eventStream } from './event-stream.ts';
import { addFirst, addPerson } from './people.ts';
import { closeThreads, LateError, readinessOf } from './readiness.ts';
import { prepareSearches } from './release.ts';
import { hearComingReleases, warmNodes, type ComingRelease } from './release-warming.ts';
import { currentDraft } from './rulebook.ts';
import { fingerprint } from './snapshot.ts';
import { beginWithFirms, rulebook } from './testing/firms-and-deals.ts';
import { emptyTables } from './testing/empty-tables.ts';

let userId: number;
beforeAll(migrate);
afterAll(closePool);
beforeEach(async () => {
  userId = await beginWithFirms();
  await prepareSearches(rulebook);
  const deal = { given: 'Fen', amount: 5 };
  await writeRecord({ type: 'deal', sent: deal, typed: ['given'], entryPoint: 'form:full', by: { userId } });
});

describe('the role that the application works with', () => {
  const role = 'rights_tests';
  /** What the database answers the role. */
  async function asRole(sql: string): Promise<string> {
    const client = await db().connect();
    try {
      await client.query('begin');
      await client.query(`set local role ${role}`);
      await client.query(sql);
      return 'done';
    } catch (e) {
      return (e as { code: string }).code;
    } finally {
      await client.query('rollback');
      client.release();
    }
  }
  beforeAll(async () => {
    const { rowCount } = await db().query('select from pg_roles where rolname = $1', [role]);
    if (rowCount === 0) await db().query(`create role ${role}`);
    await grantRights(role, db());
  });

  const insufficient = '42501';
  const columnOf = {
    record_writes: 'version = 1',
    draft_edits: 'version = 1',
    releases: `note = ''`,
    activations: `note = ''`,
    audit_log: `action = ''`,
  } as const;
  it.each(appendOnly.flatMap((t) => [`update ${t} set ${columnOf[t]}`, `delete from ${t}`, `truncate ${t} cascade`]))(
    'cannot %s',
    async (sql) => {
      expect(await asRole(sql)).toBe(insufficient);
    },
  );
  it.each([
    'drop table records',
    'alter table audit_log disable trigger all',
    'create table mine (a int)',
    'update schema_version set version = 0',
  ])('does not own the tables: %s', async (sql) => {
    expect(await asRole(sql)).toBe(insufficient);
  });
  it.each([
    `insert into audit_log (action) values ('x')`,
    'delete from records',
    `select graphile_worker.add_job('follow', '{}'::json)`,
    `select take_record_ids('deal', 1)`,
    'lock table records in share row exclusive mode',
  ])('can do its work: %s', async (sql) => {
    expect(await asRole(sql)).toBe('done');
  });
  it.each(appendOnly)('even the owner is held up by triggers on %s', async (table) => {
    await expect(db().query(`truncate ${table} cascade`)).rejects.toThrow(/append-only/);
  });
});

describe('what is worked out from records', () => {
  it('is compared with them, and made anew where it differs', async () => {
    const wrong = async (repair: boolean) =>
      (await verify(repair)).indexes.flatMap((i) => (i.missing + i.extra > 0 ? [[i.field, i.missing, i.extra]] : []));
    expect(await wrong(false)).toEqual([]);
    await db().query(`delete from match_keys where type = 'firm' and id = 2`);
    await db().query(`insert into match_keys (type, field, mode, key, id) values ('deal', 'firm', 'exact', '7', 7)`);
    const found = [
      ['firm', 0, 1],
      ['name', 1, 0],
    ];
    expect(await wrong(false)).toEqual(found);
    expect(await wrong(true)).toEqual(found);
    expect(await wrong(false)).toEqual([]);
  });

  it('a release whose bytes were changed acts no more', async () => {
    const client = await db().connect();
    await client.query(`set session_replication_role = replica`);
    await client.query(`update releases set snapshot = replace(snapshot, 'Alder', 'Elder') || ' '`);
    await client.query(`set session_replication_role = origin`);
    client.release();
    const stored = await loadRelease(1);
    await expect(readSnapshot(stored!)).rejects.toThrow(/Release 1 is not what was released/);
    expect((await verify(false)).releases).toEqual([{ number: 1, holds: false }]);
  });
});

it('a backup is restored into a new installation with equal tables', async () => {
  const from = process.env['DATABASE_URL']!;
  const name = `restored_${randomUUID().slice(0, 8)}`;
  const to = from.replace(/\/[^/]*$/, `/${name}`);
  const tables = async (url: string) => {
    const client = new pg.Client(url);
    await client.connect();
    const { rows } = await client.query<{ t: string }>(
      `select table_name as t from information_schema.tables where table_schema = 'public' order by 1`,
    );
    const sums = [];
    for (const { t } of rows) {
      const sum = `select count(*)::int as n, md5(coalesce(string_agg(r::text, '|' order by r::text), '')) as hash from ${t} r`;
      sums.push({ t, ...(await client.query<{ n: number; hash: string }>(sum)).rows[0] });
    }
    await client.end();
    return sums;
  };
  await db().query(`create database ${name}`);
  const dump = execFileSync('pg_dump', ['--no-owner', '--no-privileges', from], { encoding: 'utf8', maxBuffer: 1e9 });
  // Where it is restored there need be none of the roles of here.
  expect(dump).not.toContain('rights_tests');
  execFileSync('psql', ['-q', '-v', 'ON_ERROR_STOP=1', to], { input: dump, stdio: ['pipe', 'ignore', 'inherit'] });
  const [before, after] = [await tables(from), await tables(to)];
  expect(after).toEqual(before);
  expect(after.find((s) => s.t === 'records')?.n).toBeGreaterThan(2);
  await db().query(`drop database ${name}`);
});

it('a draft is looked through beside the requests, and not for ever', async () => {
  process.env['RELEASE_CHECK_TIMEOUT'] = '1';
  await expect(readinessOf(rulebook)).rejects.toThrow(LateError);
  delete process.env['RELEASE_CHECK_TIMEOUT'];
  // What was late is tried anew.
  expect(await readinessOf(rulebook)).toMatchObject({ tests: 0, failing: [] });
  await closeThreads();
});

describe('before a release goes live', () => {
  /** Another node: it hears of what comes and says that it is ready, or not. */
  async function anotherNode(answers: boolean) {
    const client = new pg.Client({ ...connectionSettings(), application_name: listenerName });
    await client.connect();
    const heard: ComingRelease[] = [];
    const { rows } = await client.query<{ pid: number }>('select pg_backend_pid() as pid');
    client.on('notification', ({ payload }) => {
      const next = JSON.parse(payload!) as ComingRelease;
      heard.push(next);
      if (answers) void notify('release_ready', { sha256: next.sha256, node: rows[0]!.pid });
    });
    await client.query('listen release_coming');
    return { heard, end: () => client.end() };
  }

  it('every node has compiled it, and one that does not say so is waited for no longer than that', async () => {
    await hearComingReleases();
    const next = { sha256: await fingerprint((await currentDraft()).rulebook) };
    expect(await warmNodes(next)).toBe(0);
    // What nobody here sent is left out, and takes nothing down.
    for (const channel of ['draft_edit', 'release_coming', 'release_ready'])
      for (const payload of ['', '{', '{"sha256":1}']) await db().query('select pg_notify($1, $2)', [channel, payload]);
    const ready = await anotherNode(true);
    expect(await warmNodes(next)).toBe(0);
    const silent = await anotherNode(false);
    expect(await warmNodes(next, 300)).toBe(1);
    expect(ready.heard).toEqual([next, next]);
    await silent.end();
    // A draft that is another by now, and a release that is not there, hold nobody up.
    expect(await warmNodes({ sha256: 'another' })).toBe(0);
    expect(await warmNodes({ sha256: 'gone', release: 99 })).toBe(0);
    await ready.end();
  });
});

it('who begins to hear of edits is told of those since its page, and then of each', async () => {
  const edit = () =>
    editParts([{ kind: 'settings', key: 'rulebook', version: 0, operations: [creating({ zone: 'UTC' })] }], {
      user: { id: userId, name: 'Somebody' },
      page: 'another',
      check: () => undefined,
    });
  // The notice of an edit may reach this process after who listens from a later state on: what is awaited is among what is heard.
  const hears = (awaited: RegExp, since: string) =>
    new Promise<void>((done) => {
      const heard = (what: string) => awaited.test(what) && done();
      const stop = hearDraftEdits(
        {
          edited: ({ part }) => heard(`version ${part?.version}`),
          missed: () => heard('missed'),
          ended: () => heard('ended'),
        },
        since,
      );
      ends.push(stop);
    });
  const ends: (() => void)[] = [];
  await db().query('delete from draft_parts');
  const before = await draftStamp();
  const first = hears(/version 1|missed/, before);
  await edit();
  await first;
  // A part that was made is no edit of one that the page has: it asks for the whole.
  await hears(/missed/, before);
  const made = await draftStamp();
  await editParts(
    [
      {
        kind: 'settings',
        key: 'rulebook',
        version: 1,
        operations: [{ op: 'replace', path: '/zone', value: 'Europe/Lisbon' }],
      },
    ],
    { user: { id: userId, name: 'Somebody' }, page: 'another', check: () => undefined },
  );
  await hears(/version 2/, made);
  await hears(/missed/, made.replace(/ \d+$/, ''));
  const up = hears(/version 2/, await draftStamp());
  await db().query(`select pg_notify('draft_edit', $1)`, [
    JSON.stringify({ kind: 'settings', key: 'rulebook', edit: 1, by: 'Somebody', page: 'another' }),
  ]);
  await up;
  for (const end of ends) end();
  stopHearing();
  await stopListening();
});

describe('sessions', () => {
  const begin = async () => {
    const { secret, digest } = createSecret();
    await insertSession(digest, userId, { place: '127.0.0.1', agent: 'a browser' });
    return { secret, ...(await findSessionUser(digest))! };
  };

  it('are listed, and end when they are ended or nobody uses them', async () => {
    const [first, second] = [await begin(), await begin()];
    expect(await listSessions(userId)).toHaveLength(2);
    expect(await deleteOtherSessions(userId, second.sessionId)).toBe(1);
    expect(await findSessionUser(digestOf(first.secret))).toBeUndefined();
    await db().query(`update sessions set seen_at = now() - interval '13 hours'`);
    expect(await findSessionUser(digestOf(second.secret))).toBeUndefined();
    expect(await sessionsInForce([second.sessionId])).toEqual(new Set());
  });

  it('have so many streams, none that nobody reads', async () => {
    const { sessionId } = await begin();
    const ended: number[] = [];
    const says: ((text: string) => void)[] = [];
    for (let i = 0; i < 9; i++)
      eventStream(sessionId, ({ say }) => {
        says.push((text) => say('edit', text));
        return () => ended.push(i);
      });
    expect(ended).toEqual([0]);
    for (let i = 0; i < 30; i++) says[5]!('x'.repeat(20_000));
    expect(ended).toEqual([0, 5]);
  });
});

describe('the first person', () => {
  it('comes in by a token that is told once, and only where there is nobody', async () => {
    const token = openSetup().split('=')[1]!;
    expect([isSetupToken(token), isSetupToken('x'), isSetupToken('')]).toEqual([true, false, false]);
    closeSetup();
    expect(isSetupToken(token)).toBe(false);
    const first = { email: 'first@b.example', name: 'First', password: 'a long password' };
    expect(await addFirst(first)).toBeUndefined();
    await emptyTables('users');
    const both = await Promise.all([addFirst(first), addFirst({ ...first, email: 'other@b.example' })]);
    expect(both.filter((id) => id !== undefined)).toHaveLength(1);
    expect(await addPerson({ ...first, role: 'viewer' }, null)).toBe(both[0] === undefined);
  });

  it.each([
    [['add-person', 'x@b.example', '--name', 'X', '--role', 'king'], 2],
    [['add-person', 'nobody', '--name', 'X'], 2],
    [['polish'], 2],
    [['verify', '--hard'], 2],
  ])('the command says how it is used: %j', async (args, code) => {
    expect(await main(args)).toBe(code);
  });
});

describe('tokens', () => {
  const ask = async (secret: string, method: string) => {
    const headers = { authorization: `Bearer ${secret}` };
    const answer = await withToken(
      new Request('http://x.example/', { method, headers }),
      async () => new Response('in'),
    );
    return answer.status;
  };
  const make = async (mayWrite: boolean, days: number) => {
    const { secret, digest } = createSecret('rrt_');
    await insertToken(digest, { name: 'T', mayWrite, days }, userId);
    return secret;
  };

  it.each<[string, boolean, number, string, number]>([
    ['reads with one that may read', false, 1, 'GET', 200],
    ['does not write with it', false, 1, 'PATCH', 403],
    ['writes with one that may', true, 1, 'PATCH', 200],
    ['does nothing with one whose time is over', true, -1, 'GET', 401],
  ])('a program %s', async (_, mayWrite, days, method, status) => {
    expect(await ask(await make(mayWrite, days), method)).toBe(status);
  });

  it('their use is noted', async () => {
    const secret = await make(true, 1);
    await useToken(digestOf(secret));
    const { rows } = await db().query('select last_used_at is not null as used from api_tokens where token_hash = $1', [
      digestOf(secret),
    ]);
    expect(rows).toEqual([{ used: true }]);
  });
});

#!/usr/bin/env node
/**
 * npm run bench -- server: the built application on a PostgreSQL of its own, with the demo's rules, against the same
 * work done by pgbench on the same server: the statements that a write cannot do without, in one SERIALIZABLE
 * transaction, without any rule, trace or HTTP. Writes bench/server-results.json.
 */
import { createHash, randomBytes } from 'node:crypto';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { cpus, tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { build } from '../scripts/lib/packages.mjs';
import { dataDir } from '../scripts/lib/paths.mjs';
import { ensureDatabase, startCluster } from '../scripts/lib/postgres.mjs';
import { end, must, withCleanUp } from '../scripts/lib/run.mjs';
import { step } from '../scripts/lib/say.mjs';
import { startWeb } from '../scripts/lib/web.mjs';
import { asked } from './asked.mjs';
import { ensureLoad, load } from './load.mjs';

/** The machine is others' as well: floor and application are measured by turns, and the middle round is told. */
const rounds = 5;
/** Of each round; whole ones. */
const seconds = Number(process.env.BENCH_SECONDS ?? 3);
const port = 4652;
const only = asked.part;
let cluster;
const webs = [];

const floors = {
  // The live release, the record locked, the record written, its history.
  patch: `
\\set id random(1, 1000)
\\set n random(1, 2000)
begin isolation level serializable;
select release from activations order by id desc limit 1;
select id, data, held, version, changed_at from records where type = 'customer' and id = :id for update;
update records set data = data || jsonb_build_object('employee_count', :n::int), version = version + 1, changed_at = now() where type = 'customer' and id = :id returning version;
insert into record_writes (type, record_id, version, entry_point, moment, release, changes, trace) values ('customer', :id, 1, 'api', 'updating', 1, jsonb_build_array(jsonb_build_object('field', 'employee_count', 'from', 1, 'to', :n::int)), '[]');
commit;
`,
  // The live release, an id, the record, one key to find it by, its history.
  post: `
\\set n random(1, 2000000000)
begin isolation level serializable;
select release from activations order by id desc limit 1;
select nextval('bench_ids') as id \\gset
insert into records (type, id, data) values ('contact', 1000000 + :id, jsonb_build_object('last_name', 'Name ' || :n::text, 'email', 'n' || :n::text || '@example.org'));
insert into match_keys (type, field, mode, key, id) values ('contact', 'bench', 'exact', 'n' || :n::text || '@example.org', 1000000 + :id);
insert into record_writes (type, record_id, version, entry_point, moment, release, changes, trace) values ('contact', 1000000 + :id, 1, 'api', 'creating', 1, jsonb_build_array(jsonb_build_object('field', 'last_name', 'to', 'Name ' || :n::text)), '[]');
commit;
`,
};

/** Transactions a second. */
async function pgbench(name, clients) {
  const file = join(mkdtempSync(join(tmpdir(), 'rigid-rule-')), `${name}.sql`);
  writeFileSync(file, floors[name]);
  const out = await must(
    cluster.program('pgbench'),
    [
      '-n',
      '-M',
      'prepared',
      '-f',
      file,
      '-c',
      String(clients),
      '-j',
      '2',
      '-T',
      String(seconds),
      '--max-tries=10',
      cluster.url('bench'),
    ],
    'pgbench failed.',
  );
  return Number(/tps = ([\d.]+)/.exec(out)[1]);
}

let series = 0;
/** In Lua: what is asked next. */
const requests = {
  patch: (ids) => `
    local ids = {${ids.join(',')}}
    return "PATCH", "/api/v1/records/customer/" .. ids[math.random(#ids)], '{"employee_count":' .. math.random(2000) .. '}'`,
  // Each has a name and an email of its own.
  post: () => `
    made = (made or 0) + 1
    local n = "${process.pid}x${series++}x" .. made
    return "POST", "/api/v1/records/contact",
      '{"first_name":"Ann","last_name":"Name ' .. n .. '","email":"n' .. n .. '@example.org"}'`,
  get: () => 'return "GET", "/api/v1/records/customer/" .. math.random(1000)',
};

const middle = (values) => values.toSorted((a, b) => a - b)[Math.floor(values.length / 2)];

const loaded = (token, next, connections, at = port) =>
  load({ origin: `http://127.0.0.1:${at}`, token, connections, next, seconds });

/** Customers whose number of employees no rule of the demo objects to. */
async function changeable(token, most) {
  const found = [];
  const headers = { authorization: `Bearer ${token}`, 'content-type': 'application/json', 'if-match': '*' };
  for (let id = 1; found.length < most && id <= 1200; id++) {
    const answers = [];
    for (const employee_count of [1, 30, 120, 2000]) {
      const body = JSON.stringify({ employee_count });
      const url = `http://127.0.0.1:${port}/api/v1/records/customer/${id}`;
      answers.push((await fetch(url, { method: 'PATCH', headers, body })).ok);
    }
    if (answers.every(Boolean)) found.push(id);
  }
  return found;
}

/** Seconds of processor time of a process. */
function cpuOf(pid) {
  const fields = readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ').at(-1).split(' ');
  return (Number(fields[11]) + Number(fields[12])) / 100;
}

async function main() {
  await build();
  await ensureLoad();
  cluster = await startCluster(join(dataDir, 'bench'), { throwAway: true, durable: true });
  await ensureDatabase(cluster, 'bench');
  const env = {
    DATABASE_URL: cluster.appUrl('bench', true),
    DATABASE_OWNER_URL: cluster.socketUrl('bench'),
    HOST: '127.0.0.1',
    RIGID_RULE_DEMO: '1',
    LOG_LEVEL: 'error',
  };
  webs.push(await startWeb({ ...env, PORT: String(port) }));
  const client = new pg.Client(cluster.url('bench'));
  client.on('error', () => undefined); // the cluster ends while an error unwinds
  await client.connect();
  const token = randomBytes(32).toString('base64url');
  await client.query(
    `insert into api_tokens (token_hash, name, created_by, may_write, expires_at) select $1, 'Bench', min(id), true, now() + interval '1 day' from users`,
    [createHash('sha256').update(token).digest()],
  );
  await client.query('create sequence bench_ids');
  const results = { node: process.version, cpu: cpus()[0].model, cores: cpus().length, seconds, rounds, rows: [] };
  const row = (what, value, unit, wanted) => {
    results.rows.push({ what, value, unit, ...(wanted ? { wanted } : {}) });
    step(`${what.padEnd(62)} ${String(value).padStart(9)} ${unit}${wanted ? `   (wanted ${wanted})` : ''}`);
  };
  const want = (name) => !only || only === name;
  const round = (n, d = 0) => Number(n.toFixed(d));
  const follow = async () => {
    const began = Date.now();
    for (;;) {
      const { rows } = await client
        .query('select count(*)::int as n from follow_ups where failures is null')
        .catch(() => ({ rows: [{ n: 0 }] }));
      if (rows[0].n === 0 || Date.now() - began > 60_000) return round((Date.now() - began) / 1000, 1);
      await new Promise((r) => setTimeout(r, 100));
    }
  };
  const ids = await changeable(token, 120);
  await loaded(token, requests.patch(ids), 8); // warm
  await follow();
  for (const [name, clientsOf, wanted] of [
    ['patch', [1, 32], 0.5],
    ['post', [32], 0.4],
  ]) {
    if (!want(name)) continue;
    for (const clients of clientsOf) {
      const label = `${name.toUpperCase()}, ${clients} connection${clients > 1 ? 's' : ''}`;
      const tried = [];
      let followed = 0;
      for (let i = 0; i < rounds; i++) {
        const floor = await pgbench(name, clients);
        const before = cpuOf(webs[0].pid);
        const own = await loaded(token, requests[name](ids), clients);
        tried.push({ floor, own, cpu: cpuOf(webs[0].pid) - before });
        // What is left to do would hold up the floor of the next round.
        followed += await follow();
      }
      const codes = {};
      for (const { own } of tried)
        for (const [code, n] of Object.entries(own.codes)) codes[code] = (codes[code] ?? 0) + n;
      const made = (codes[200] ?? 0) + (codes[201] ?? 0);
      const shares = tried.map(({ floor, own }) => own.perSecond / floor);
      row(`${label}: pgbench`, round(middle(tried.map((t) => t.floor))), '/s');
      row(`${label}: application`, round(middle(tried.map((t) => t.own.perSecond))), '/s');
      row(`${label}: share of pgbench`, round(middle(shares), 2), '', `≥ ${wanted}`);
      row(`${label}: share, of the rounds`, shares.map((r) => round(r, 2)).join(' '), '');
      row(`${label}: p99`, round(middle(tried.map((t) => t.own.p99)), 1), 'ms');
      row(
        `${label}: CPU of the web process a write`,
        round((tried.reduce((n, t) => n + t.cpu, 0) * 1000) / made, 2),
        'ms',
      );
      row(`${label}: answers`, JSON.stringify(codes), '');
      row(`${label}: follow-ups done after`, round(followed / rounds, 1), 's');
    }
  }
  if (want('get')) {
    const before = cpuOf(webs[0].pid);
    const read = await loaded(token, requests.get(), 32);
    row('GET, 32 connections', round(read.perSecond), '/s', '≥ 2000');
    const cpu = cpuOf(webs[0].pid) - before;
    row('GET, 32 connections: CPU of the web process a read', round((cpu * 1000) / read.codes[200], 2), 'ms');
  }
  if (want('crowd')) {
    const crowd = await loaded(token, requests.patch(ids.slice(0, 20)), 200);
    row('200 writers on 20 records', round(crowd.perSecond), '/s', '≥ 150');
    row('200 writers on 20 records: p99', crowd.p99, 'ms', '< 1500');
    row('200 writers on 20 records: answers', JSON.stringify(crowd.codes), '');
    await follow();
  }
  if (want('nodes')) {
    /** What came of it, and milliseconds of the web processes' CPU a write. */
    const withCpu = async (work) => {
      const cpu = () => webs.reduce((sum, { pid }) => sum + cpuOf(pid), 0);
      const before = cpu();
      const done = await work();
      const [spent, writes] = [cpu() - before, done.reduce((n, r) => n + (r.codes[200] ?? 0), 0)];
      return { perSecond: done.reduce((n, r) => n + r.perSecond, 0), cpu: round((spent * 1000) / writes, 2) };
    };
    webs.push(await startWeb({ ...env, PORT: String(port + 1) }));
    // Each has records of its own: writes of two processes on one record meet, and are settled again.
    const halves = [ids.slice(0, ids.length / 2), ids.slice(ids.length / 2)];
    const oneWeb = () => withCpu(async () => [await loaded(token, requests.patch(ids), 32)]);
    const bothWebs = () =>
      withCpu(() => Promise.all(halves.map((own, i) => loaded(token, requests.patch(own), 16, port + i))));
    // What has just begun is still compiling what the other has compiled.
    for (let i = 0; i < 2; i++) await loaded(token, requests.patch(ids), 32, port + 1);
    await follow();
    const tried = [];
    for (let i = 0; i < rounds; i++) {
      const one = await oneWeb();
      await follow();
      tried.push({ one, both: await bothWebs() });
      await follow();
    }
    const of = (f) => middle(tried.map(f));
    row(
      'two web processes against one',
      round(
        of(({ one, both }) => both.perSecond / one.perSecond),
        2,
      ),
      '',
      '≥ 1.7 where cores allow',
    );
    row('two web processes against one: CPU a write', `${of((t) => t.both.cpu)} against ${of((t) => t.one.cpu)}`, 'ms');
  }
  await client.end();
  if (!only) writeFileSync(new URL('server-results.json', import.meta.url), `${JSON.stringify(results, null, 2)}\n`);
  return 0;
}

await withCleanUp(main, async () => {
  for (const web of webs) await end(web);
  await cluster?.stop();
});

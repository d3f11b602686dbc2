#!/usr/bin/env node
/**
 * npm run faults: what breaks around the application while it runs. PostgreSQL is killed, stopped and hung under the built
 * server, on a throw-away cluster; the server answers all the while and is well again soon after. Then the server is
 * killed between a write and what follows from it. The last line is `tests: N passed, N failed`.
 */
import { createHash, randomBytes } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { build, npmPackages } from './lib/packages.mjs';
import { dataDir } from './lib/paths.mjs';
import { ensureDatabase, startCluster } from './lib/postgres.mjs';
import { end, withCleanUp } from './lib/run.mjs';
import { say, step } from './lib/say.mjs';
import { startWeb } from './lib/web.mjs';

const port = 4651;
const origin = `http://127.0.0.1:${port}`;
/** Seconds within which the application is well again once its database is. */
const recovery = 5;
let cluster;
let web;
let other;
let passed = 0;
let failed = 0;

const statusOf = (path, headers = {}, body) =>
  fetch(`${origin}${path}`, {
    ...(body ? { method: 'POST', body } : {}),
    headers,
    redirect: 'manual',
    signal: AbortSignal.timeout(30_000),
  }).then(
    (r) => ({ status: r.status, retryAfter: r.headers.get('retry-after'), type: r.headers.get('content-type') }),
    (e) => ({ status: e.message }),
  );

function check(what, holds, found = '') {
  if (holds) passed++;
  else failed++;
  step(`${holds ? 'holds' : 'FAILS'}  ${what}${holds ? '' : `: ${JSON.stringify(found)}`}`);
}

async function within(seconds, path, wanted) {
  const began = Date.now();
  while (Date.now() - began < seconds * 1000) {
    if ((await statusOf(path)).status === wanted) return true;
    await sleep(100);
  }
  return false;
}

/** Whether the connection by which nodes hear of each other is there again in time. */
async function hears() {
  const began = Date.now();
  while (Date.now() - began < recovery * 1000) {
    const open = await cluster.psql(
      `select count(*) from pg_stat_activity where datname = 'faults' and application_name = 'rigid-rule notices'`,
    );
    if (open.trim() === '1') return true;
    await sleep(100);
  }
  return false;
}

/** While the database is away. */
async function away(what) {
  const alive = await statusOf('/healthz');
  check(`${what}: the process answers`, alive.status === 200, alive);
  const began = Date.now();
  const ready = await statusOf('/readyz');
  check(`${what}: it says at once that it is not ready`, ready.status === 503 && Date.now() - began < 2000, ready);
  const api = await statusOf('/api/v1/records/customer/1', { authorization: `Bearer ${'x'.repeat(32)}` });
  check(`${what}: the API answers 503 with Retry-After`, api.status === 503 && api.retryAfter !== null, api);
  check(`${what}: ... as problem details`, String(api.type).startsWith('application/problem+json'), api);
  const page = await statusOf('/desk', { cookie: 'rigid_rule_session=none' });
  check(`${what}: a page is told apart from a fault`, [303, 503].includes(page.status), page);
}

/** As one that took over and is not the first yet: whoever was connected before is told too. */
const takeWrites = async (takes) => {
  await cluster.psql(`alter system set default_transaction_read_only = ${takes ? 'off' : 'on'}`);
  await cluster.psql('select pg_reload_conf()');
  await sleep(300);
};

const signIn = () =>
  statusOf(
    '/sign-in',
    { origin, accept: 'text/html' },
    new URLSearchParams({ email: 'tomas@quillhaven.example', password: 'orchard-in-bloom' }),
  );

/** While the database can be read and takes nothing. */
async function readsOnly() {
  check('the database only reads: pages do too', (await statusOf('/sign-in')).status === 200);
  const write = await signIn();
  check('... and a write is told to come again', write.status === 503 && write.retryAfter !== null, write);
}

/** Seconds within which the queue of another process does what a killed one had not asked for: its silence, a beat, the work. */
const madeUpFor = 75;

/** A process is killed right after it answered a write, before it had jobs made for what follows from it. */
async function killedAfterWrite(env) {
  const records = (sql) => cluster.psql(sql, 'faults');
  const token = randomBytes(32).toString('base64url');
  const hash = createHash('sha256').update(token).digest('hex');
  await records(
    `insert into api_tokens (token_hash, name, created_by, may_write, expires_at)
     select '\\x${hash}', 'Faults', min(id), true, now() + interval '1 day' from users`,
  );
  const customers = await records(
    `select distinct data ->> 'customer' from records where type = 'deal' and data ->> 'title' is not null limit 8`,
  );
  other = await startWeb({ ...env, PORT: String(port + 1) });
  let left = 0;
  const renamed = [];
  // Its jobs are made within some milliseconds: where they were already, it is tried with another record.
  for (const id of customers.trim().split(/\s+/)) {
    const name = `Renamed ${id}`;
    const { status } = await fetch(`${origin}/api/v1/records/customer/${id}`, {
      method: 'PATCH',
      headers: { authorization: `Bearer ${token}`, 'content-type': 'application/json', 'if-match': '*' },
      body: JSON.stringify({ name }),
    });
    process.kill(web.pid, 'SIGKILL');
    if (status === 200) renamed.push(name);
    left = Number(await records('select count(*) from follow_ups_without_job(0)'));
    if (left > 0) break;
    web = await startWeb(env);
  }
  check('a process is killed between a write and what follows from it', left > 0, { left, renamed });
  const began = Date.now();
  const waiting = async () => Number(await records('select count(*) from follow_ups'));
  while ((await waiting()) > 0 && Date.now() - began < madeUpFor * 1000) await sleep(500);
  check('... another does that', (await waiting()) === 0);
  const titled = await records(
    `select count(*) from records where type = 'deal' and data ->> 'title' like '${renamed.at(-1)}, %'`,
  );
  check('... and records say so', Number(titled) > 0, titled);
}

/** Process ids whose parent is this one. */
const childrenOf = (parent) =>
  readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name))
    .filter((pid) => {
      try {
        return readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ').at(-1).split(' ')[1] === String(parent);
      } catch {
        return false; // it ended meanwhile
      }
    })
    .map(Number);

/** To the database server and all its processes; those that end meanwhile need none. */
function toDatabase(signal) {
  const group = cluster.pid();
  for (const pid of [group, ...childrenOf(group)])
    try {
      process.kill(pid, signal);
    } catch (e) {
      if (e.code !== 'ESRCH') throw e;
    }
}

async function main() {
  await npmPackages();
  await build();
  cluster = await startCluster(join(dataDir, 'faults'), { throwAway: true });
  await ensureDatabase(cluster, 'faults');
  const env = {
    DATABASE_URL: cluster.url('faults'),
    HOST: '127.0.0.1',
    PORT: String(port),
    RIGID_RULE_DEMO: '1',
    LOG_LEVEL: 'silent',
    DATABASE_TIMEOUT: '2000',
  };
  web = await startWeb(env);
  const pid = web.pid;
  check('it is ready', (await statusOf('/readyz')).status === 200);

  await cluster.psql(`select pg_terminate_backend(pid) from pg_stat_activity where datname = 'faults'`);
  check('every connection ended: it is ready again', await within(recovery, '/readyz', 200));
  check('... and hears of other nodes', await hears());

  await takeWrites(false);
  await readsOnly();
  await takeWrites(true);
  const back = await signIn();
  check('it takes writes again: people sign in', back.status === 303, back);

  process.kill(cluster.pid(), 'SIGKILL');
  await sleep(300);
  await away('PostgreSQL killed');
  await cluster.restart();
  check('PostgreSQL is back: the application is too', await within(recovery, '/readyz', 200));
  check('... and signs people in', (await statusOf('/sign-in')).status === 200);
  check('... and hears of other nodes', await hears());

  toDatabase('SIGSTOP');
  await away('PostgreSQL hangs');
  toDatabase('SIGCONT');
  check('it goes on: the application does too', await within(recovery, '/readyz', 200));
  check('all the while it was the same process', web.pid === pid && web.exitCode === null);
  await killedAfterWrite(env);
  say(`tests: ${passed} passed, ${failed} failed`);
  return failed === 0 ? 0 : 1;
}

await withCleanUp(main, async () => {
  for (const each of [web, other]) if (each) await end(each);
  // One that was left hanging hears nothing else.
  if (cluster?.pid()) toDatabase('SIGCONT');
  await cluster?.stop();
});

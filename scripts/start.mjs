#!/usr/bin/env node
/**
 * npm start: everything that a fresh machine needs, then the application with its database, until Ctrl-C.
 * Honours DATABASE_URL (an existing server instead of a private one), PORT, HOST and DATA_DIR.
 */
import { accessSync, constants, existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { build, npmPackages } from './lib/packages.mjs';
import { dataDir } from './lib/paths.mjs';
import { ensureDatabase, startCluster } from './lib/postgres.mjs';
import { end, withCleanUp } from './lib/run.mjs';
import { giveUp, say, step } from './lib/say.mjs';
import { startWeb } from './lib/web.mjs';

const host = process.env.HOST ?? '127.0.0.1';
const port = Number(process.env.PORT ?? 4650);
const demo = (process.env.RIGID_RULE_DEMO ?? '1') === '1';
const lock = join(dataDir, 'start.pid');
let cluster;
let web;
let locked = false;
let stopping = false;

/** The demo's passwords stand in its README: nobody else may reach it unless that is meant. */
function refuseKnownPasswords() {
  const isLoopback = host === 'localhost' || host === '::1' || /^127(\.\d{1,3}){3}$/.test(host);
  if (!demo || isLoopback || process.env.RIGID_RULE_PASSWORDS_ARE_KNOWN === '1') return;
  giveUp(
    `HOST=${host} lets others reach the demo, whose passwords anybody can read. Start it with RIGID_RULE_DEMO=0, or with\nRIGID_RULE_PASSWORDS_ARE_KNOWN=1 where that is meant.`,
  );
}

/** Two starts on one data folder would fight over its database. */
function takeLock() {
  try {
    mkdirSync(dataDir, { recursive: true });
    accessSync(dataDir, constants.W_OK);
  } catch (e) {
    giveUp(`The data folder ${dataDir} cannot be written (${e.code}). Choose another with DATA_DIR.`);
  }
  if (existsSync(lock)) {
    const pid = Number(readFileSync(lock, 'utf8'));
    const cmdline = `/proc/${pid}/cmdline`;
    if (pid !== process.pid && existsSync(cmdline) && readFileSync(cmdline, 'utf8').includes('start.mjs'))
      giveUp(`Rigid Rule is already running on this data folder (process ${pid}). Stop it first, or set DATA_DIR.`);
  }
  writeFileSync(lock, String(process.pid));
  locked = true;
}

async function main() {
  if (!Number.isInteger(port) || port < 0 || port > 65535) giveUp(`PORT=${process.env.PORT} is no port number.`);
  refuseKnownPasswords();
  takeLock();
  await npmPackages();
  await build();
  let databaseUrl = process.env.DATABASE_URL;
  let ownerUrl = process.env.DATABASE_OWNER_URL;
  if (!databaseUrl) {
    cluster = await startCluster(join(dataDir, 'postgres'));
    await ensureDatabase(cluster, 'rigid_rule');
    databaseUrl = cluster.appUrl('rigid_rule', true);
    ownerUrl = cluster.socketUrl('rigid_rule');
    step('The database runs.');
    keepDatabase();
  }
  const env = {
    DATABASE_URL: databaseUrl,
    ...(ownerUrl ? { DATABASE_OWNER_URL: ownerUrl } : {}),
    HOST: host,
    PORT: String(port),
    RIGID_RULE_DEMO: demo ? '1' : '0',
    LOG_LEVEL: process.env.LOG_LEVEL ?? 'warn',
  };
  web = await startWeb(env);
  step('The application runs.');
  keepRunning(env);
  say(`\n  Rigid Rule: http://${host}:${port}\n`);
  if (demo) await printSignIns();
  say('  Ctrl-C stops it.\n');
  return new Promise(() => undefined);
}

/** Seconds before the first restart, doubled each time up to the last; whoever ran for a while begins anew. */
const firstPause = 1;
const longestPause = 30;
const steady = 60_000;

/** What ends by itself is started again: the application, and with it the private database server. */
function keepRunning(env, pause = firstPause) {
  const since = Date.now();
  web.once('exit', async (code, signal) => {
    if (stopping) return;
    const wait = Date.now() - since > steady ? firstPause : pause;
    say(`The application ended (${signal ?? `exit ${code}`}); it starts again in ${wait} s.`);
    await sleep(wait * 1000);
    if (stopping) return;
    try {
      web = await startWeb(env);
      step('The application runs again.');
    } catch (e) {
      if (!stopping) say(e.message);
    }
    keepRunning(env, Math.min(wait * 2, longestPause));
  });
}

/** The server that was there keeps its port, so that the application finds it again. */
function keepDatabase(pause = firstPause) {
  const since = Date.now();
  cluster.onExit(async () => {
    if (stopping) return;
    const wait = Date.now() - since > steady ? firstPause : pause;
    say(`The database server ended; it starts again in ${wait} s.`);
    await sleep(wait * 1000);
    if (stopping) return;
    await cluster.restart().then(
      () => step('The database runs again.'),
      (e) => say(e.message),
    );
    keepDatabase(Math.min(wait * 2, longestPause));
  });
}

async function printSignIns() {
  const { origin } = new URL(`http://${host}:${port}`);
  const answer = await fetch(`${origin}/sign-in/demo`);
  if (!answer.ok) return;
  say('  Demo sign-ins (email, password):');
  for (const u of await answer.json()) say(`    ${u.role.padEnd(14)} ${u.email.padEnd(30)} ${u.password}`);
  say('');
}

await withCleanUp(main, async () => {
  stopping = true;
  if (web) await end(web);
  await cluster?.stop();
  if (locked) rmSync(lock, { force: true });
});

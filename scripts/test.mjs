#!/usr/bin/env node
/**
 * npm test: all set-up, then checks, unit tests beside database tests on a throw-away cluster, and browser tests. The last
 * line is `tests: N passed, N failed`. `--only checks|unit|database|browser|screenshots|bench` runs one part; `--changed`
 * or `--changed=REVISION` runs what depends on files that changed; what else follows `--` goes to the test runner.
 */
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { runChecks } from './check.mjs';
import { ensureChromium } from './lib/chromium.mjs';
import { fillTemplate, template } from './lib/demo-template.mjs';
import { failuresOfPlaywright, failuresOfVitest } from './lib/failures.mjs';
import { build, npmPackages } from './lib/packages.mjs';
import { dataDir, root } from './lib/paths.mjs';
import { ensureDatabase, ensureServer, startCluster } from './lib/postgres.mjs';
import { run, withCleanUp } from './lib/run.mjs';
import { giveUp, say, step } from './lib/say.mjs';

const args = process.argv.slice(2);
const only = args[0] === '--only' ? args[1] : undefined;
const isChanged = (a) => a === '--changed' || a.startsWith('--changed=');
const changed = args.find(isChanged);
const passOn = args.slice(only ? 2 : 0).filter((a) => a !== '--' && !isChanged(a));
/** What the runners of tests are told of changes. */
const ofChanged = {
  vitest: changed ? [changed, '--passWithNoTests'] : [],
  playwright: changed ? [changed.replace('--changed', '--only-changed'), '--pass-with-no-tests'] : [],
};
const parts = { checks, unit, database, browser, screenshots, bench };
if (only && !parts[only]) {
  console.error(`There is no part ${only}; there are ${Object.keys(parts).join(', ')}.`);
  process.exit(2);
}
const results = join(root, 'test-results');
let cluster;

async function checks() {
  await run('npx', ['--workspace', 'web', 'svelte-kit', 'sync'], { capture: true });
  return runChecks({ lintTypes: false });
}

/** Share of the usual random cases: all of it has ten minutes; a part run alone tries all, `npm run soak` twenty times. */
const randomCases = { RUNS: process.env.RUNS ?? (only ? '1' : '0.25') };

/** Runs vitest on some projects; the counts come from its own report. */
async function vitest(name, projects, env = {}) {
  const report = join(results, `${name}.json`);
  rmSync(report, { force: true });
  const { code } = await run(
    'npx',
    [
      'vitest',
      'run',
      ...projects.flatMap((p) => ['--project', p]),
      '--reporter=json',
      `--outputFile.json=${report}`,
      ...ofChanged.vitest,
      ...passOn,
    ],
    { env: { ...process.env, ...randomCases, ...env } },
  );
  if (!existsSync(report)) return { passed: 0, failed: 1, failures: [`${name}: no report was written`] };
  const told = JSON.parse(readFileSync(report, 'utf8'));
  const failed = told.numFailedTests || (told.numFailedTestSuites > 0 || code !== 0 ? 1 : 0);
  return { passed: told.numPassedTests, failed, failures: failuresOfVitest(told) };
}

/** The command is tested as it is run, and threads run what is built. */
let core;
const builtCore = () => (core ??= run('npm', ['run', '--silent', 'build:core'], { capture: true }));

async function unit() {
  await builtCore();
  return vitest('unit', ['core', 'demo', 'web']);
}

let starting;
const theCluster = () =>
  (starting ??= startCluster(join(dataDir, 'test'), { throwAway: true }).then((c) => (cluster = c)));

async function withDatabase(name) {
  await ensureDatabase(await theCluster(), name);
  return cluster.url(name);
}

async function database() {
  await builtCore();
  return vitest('database', ['database'], {
    DATABASE_URL: await withDatabase('database_tests'),
    RIGID_RULE_MIGRATIONS: join(root, 'web/migrations'),
    // What the tests break on purpose is not told.
    LOG_LEVEL: 'silent',
  });
}

/** What browser tests begin with: the application as it is built, and a database with its demo. */
let beginning;
const begin = () =>
  (beginning ??= build({ core: core === undefined }).then(async () => {
    await fillTemplate(await theCluster());
  }));

async function playwright(extra) {
  const chromium = await ensureChromium();
  await begin();
  const report = join(results, 'browser.json');
  rmSync(report, { force: true });
  const env = {
    ...process.env,
    CHROMIUM: chromium,
    PLAYWRIGHT_JSON_OUTPUT_NAME: report,
    ADMIN_DATABASE_URL: await withDatabase('postgres'),
    APP_DATABASE_URL: cluster.appUrl('postgres'),
    DEMO_TEMPLATE: template,
  };
  const { code } = await run(
    'npx',
    [
      'playwright',
      'test',
      '--reporter=list,json,./e2e/support/effort-table.ts',
      ...extra,
      ...ofChanged.playwright,
      ...passOn,
    ],
    { env },
  );
  if (!existsSync(report)) return { passed: 0, failed: 1, failures: ['browser: no report was written'] };
  const told = JSON.parse(readFileSync(report, 'utf8'));
  const { expected, unexpected, flaky } = told.stats;
  return {
    passed: expected,
    failed: unexpected + flaky || (code === 0 ? 0 : 1),
    failures: failuresOfPlaywright(told),
  };
}

function browser() {
  return playwright(['--project=browser']);
}
function screenshots() {
  return playwright(['--project=screenshots']);
}

function bench() {
  return playwright(['--project=bench', '--workers=1']);
}

/** What the parts need of the system, one after another: there is one installer. */
async function systemPackages() {
  if (only === 'checks' || only === 'unit') return;
  await ensureServer();
  if (only !== 'database') await ensureChromium();
}

async function main() {
  await Promise.all([npmPackages(), systemPackages()]);
  mkdirSync(results, { recursive: true });
  const total = { passed: 0, failed: 0, failures: [] };
  const take = async (part) => {
    step(`${part} ...`);
    const { passed, failed, failures } = await parts[part]();
    step(`${part}: ${passed} passed, ${failed} failed`);
    total.passed += passed;
    total.failed += failed;
    total.failures.push(...(failures.length > 0 || failed === 0 ? failures : [`${part}: ended with an error`]));
  };
  if (only) await take(only);
  else {
    await take('checks');
    // None of them keeps both cores busy; the browser tests do, and want the build.
    await builtCore();
    await Promise.all([take('unit'), take('database'), begin()]);
    await take('browser');
  }
  if (total.passed + total.failed === 0 && !changed) giveUp('No test ran.');
  await cluster?.stop();
  cluster = undefined;
  for (const failure of total.failures) console.log(`FAILED ${failure}`);
  say(`tests: ${total.passed} passed, ${total.failed} failed`);
  return total.failed === 0 ? 0 : 1;
}

await withCleanUp(main, async () => cluster?.stop());

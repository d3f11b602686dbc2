/**
 * A demo installation of its own for each test file: a database made from a template that was filled once, and a web
 * server on a free port. Every page fails its test on console errors, failed requests and page errors.
 */
import {
  test as base,
  type BrowserContext,
  type Locator,
  type Page,
  type Response,
  type TestInfo,
} from '@playwright/test';
import type { AxeResults, ElementContext, RunOnly, RunOptions } from 'axe-core';
import { spawn, type ChildProcess } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { fileURLToPath } from 'node:url';
import pg from 'pg';
import { expect } from './expect.ts';

const web = fileURLToPath(new URL('../../web', import.meta.url));
export const password = 'orchard-in-bloom';
export const people = {
  tables: 'sunniva',
  author: 'tomas',
  releaser: 'ines',
  keeper: 'mira',
  viewer: 'jorik',
} as const;
/** The author puts right what keeps the demo's draft from being released: a country that stands twice. */
export async function putDraftRight(author: Page): Promise<void> {
  await author.goto('/findings');
  await author
    .getByRole('button', { name: /^take out row \d+$/i })
    .first()
    .click();
  await expect(author.getByRole('status').filter({ hasText: 'Saved' })).toBeVisible();
}
export type Person = keyof typeof people;
const emailOf = (who: Person): string => `${people[who]}@quillhaven.example`;

const urlOf = (database: string, as = process.env['ADMIN_DATABASE_URL']!): string => {
  const url = new URL(as);
  url.pathname = `/${database}`;
  return url.href;
};

async function admin<T>(work: (client: pg.Client) => Promise<T>): Promise<T> {
  const client = new pg.Client(urlOf('postgres'));
  await client.connect();
  try {
    return await work(client);
  } finally {
    await client.end();
  }
}

function startServer(
  database: string,
  demo = true,
  env: Readonly<Record<string, string>> = {},
): Promise<{ origin: string; child: ChildProcess; said: () => string }> {
  return new Promise((done, fail) => {
    const child = spawn(process.execPath, ['server.mjs'], {
      cwd: web,
      env: {
        ...process.env,
        DATABASE_URL: urlOf(database, process.env['APP_DATABASE_URL']!),
        DATABASE_OWNER_URL: urlOf(database),
        PORT: '0',
        HOST: '127.0.0.1',
        RIGID_RULE_DEMO: demo ? '1' : '0',
        NODE_ENV: 'production',
        LOG_LEVEL: 'warn',
        ...env,
      },
      stdio: ['ignore', 'pipe', 'inherit', 'ipc'],
    });
    let said = '';
    child.stdout!.on('data', (part) => (said += String(part)));
    child.once('message', (m) =>
      done({
        origin: `http://127.0.0.1:${(m as { listening: { port: number } }).listening.port}`,
        child,
        said: () => said,
      }),
    );
    child.once('exit', (code) => fail(new Error(`the web server ended with ${code}`)));
  });
}

const stopServer = (child: ChildProcess): Promise<void> =>
  new Promise((done) => {
    child.removeAllListeners('exit');
    // One that ended by itself says so no more.
    if (child.exitCode !== null) return done();
    child.once('exit', () => done());
    child.kill('SIGTERM');
  });

const template = 'demo_template';

/** Fills the template once, whichever worker comes first. */
async function ensureTemplate(): Promise<void> {
  await admin(async (client) => {
    await client.query('select pg_advisory_lock(4650)');
    const { rowCount } = await client.query('select 1 from pg_database where datname = $1', [template]);
    if (rowCount) return;
    await client.query('drop database if exists demo_filling with (force)');
    await client.query('create database demo_filling');
    const { child } = await startServer('demo_filling');
    await stopServer(child);
    await client.query(`alter database demo_filling rename to ${template}`);
  });
}

export interface Installation {
  readonly origin: string;
  /** Runs SQL on the installation's database, to arrange what no screen can. */
  query(sql: string, parameters?: unknown[]): Promise<unknown[]>;
  /** Lets `use` work with a second web server on the same database: one more node. Gives its origin. */
  withNode(use: (origin: string) => Promise<void>): Promise<void>;
}

interface Fixtures {
  /** A page signed in as this person, watched for errors. */
  as: (who: Person) => Promise<Page>;
  /** The same through another node, in a browser of its own. */
  asOn: (origin: string, who: Person) => Promise<Page>;
  /** Errors that a test expects are taken out of the watch by what they contain. */
  expectError: (part: string) => void;
}

/**
 * A browser of one person's own, kept from test to test with its page: what was loaded once comes from its cache, and
 * what was compiled once is compiled. A page begun anew for each test costs 0.8 s of processor time.
 */
interface Browsing {
  readonly who: Person;
  readonly context: BrowserContext;
  page: Page;
  /** As signing in left them. */
  readonly cookies: Awaited<ReturnType<BrowserContext['cookies']>>;
}

interface Running extends Installation {
  readonly file: string;
  /** Those that no test uses now. */
  readonly idle: Browsing[];
  /** What the server said went wrong, since this was asked last. */
  faults(): readonly string[];
  stop(): Promise<void>;
}

let running: Running | undefined;
let count = 0;

/** Files that begin each test on a draft that they empty share an installation. */
const sharing = (file: string): string => /[\\/]e2e[\\/](jobs)[\\/]/.exec(file)?.[1] ?? file;

/** The installation of this test file: made anew when a worker goes on to one that does not share it. */
async function installationOf(testFile: string, worker: number): Promise<Running> {
  const file = sharing(testFile);
  if (running?.file === file) return running;
  await running?.stop();
  await ensureTemplate();
  const database = `browser_${worker}_${process.pid}_${count++}`;
  await admin((c) => c.query(`create database ${database} template ${template}`));
  const { origin, child, said } = await startServer(database);
  let looked = 0;
  const pool = new pg.Pool({ connectionString: urlOf(database), max: 1 });
  running = {
    file,
    origin,
    idle: [],
    faults() {
      const lines = said().slice(looked).split('\n');
      looked = said().length;
      return lines.filter((line) => /"level":[56]0/.test(line)).map((line) => `server: ${line.slice(0, 600)}`);
    },
    query: async (sql, parameters) => (await pool.query(sql, parameters)).rows as unknown[],
    withNode: async (use) => {
      const other = await startServer(database);
      await use(other.origin).finally(() => stopServer(other.child));
    },
    async stop() {
      running = undefined;
      for (const { context } of this.idle) await context.close();
      await pool.end();
      await stopServer(child);
      await admin((c) => c.query(`drop database ${database} with (force)`));
    },
  };
  return running;
}

/** An installation without demo, that nobody can sign in to yet. `begin`: path of the page for the first person. */
export async function withEmptyInstallation(
  use: (empty: { readonly origin: string; readonly begin: string }) => Promise<void>,
  env: Readonly<Record<string, string>> = {},
): Promise<void> {
  const database = `empty_${process.pid}_${count++}`;
  await admin((c) => c.query(`create database ${database}`));
  const { origin, child, said } = await startServer(database, false, env);
  try {
    await use({ origin, begin: /\/setup\?token=\S+/.exec(said())![0] });
  } finally {
    await stopServer(child);
    await admin((c) => c.query(`drop database ${database} with (force)`));
  }
}

interface Own {
  installation: Installation;
  errors: string[];
  excused: string[];
}

export const test = base.extend<Fixtures & Own, { cleanUp: undefined }>({
  cleanUp: [
    async ({}, use) => {
      await use(undefined);
      await running?.stop();
    },
    { scope: 'worker', auto: true },
  ],
  installation: async ({}, use, info) => use(await installationOf(info.file, info.workerIndex)),
  baseURL: async ({ installation }, use) => use(installation.origin),
  errors: async ({}, use) => use([]),
  excused: async ({}, use) => use([]),
  expectError: async ({ excused }, use) => use((part) => void excused.push(part)),
  page: async ({ page, errors, excused }, use) => {
    watch(page, errors);
    await use(page);
    expectNoErrors(errors, excused);
  },
  asOn: async ({ browser, errors, excused }, use) => {
    const contexts: BrowserContext[] = [];
    await use(async (origin, who) => {
      const context = await browser.newContext({ baseURL: origin });
      contexts.push(context);
      await beginSession(context, origin, who);
      const page = await context.newPage();
      watch(page, errors);
      return page;
    });
    for (const context of contexts) await context.close();
    expectNoErrors(errors, excused);
  },
  as: async ({ browser, installation, errors, excused }, use, info) => {
    const inUse: Browsing[] = [];
    const { idle } = running!;
    await use(async (who) => {
      const known = idle.findIndex((b) => b.who === who);
      const kept = known < 0 ? undefined : idle.splice(known, 1)[0]!;
      const context = kept?.context ?? (await browser.newContext({ baseURL: installation.origin }));
      if (!kept) await beginSession(context, installation.origin, who);
      const page = kept?.page ?? (await emptyPage(context));
      watch(page, errors);
      inUse.push(kept ?? { who, context, page, cookies: await context.cookies() });
      return page;
    });
    if (info.status !== info.expectedStatus) await attachPages(info, inUse, errors);
    for (const browsing of inUse) {
      await leaveNothing(browsing, installation.origin);
      idle.push(browsing);
    }
    expectNoErrors([...errors, ...running!.faults()], excused);
  },
});

/** What stood on the pages of a test that failed: a fault that comes once in a hundred runs is found by nothing else. */
async function attachPages(info: TestInfo, inUse: readonly Browsing[], errors: readonly string[]): Promise<void> {
  for (const { who, context } of inUse)
    for (const page of context.pages()) {
      const shown = await page.locator('main').ariaSnapshot({ timeout: 5_000 }).catch(String);
      // What could be chosen, and where links lead, is told by nothing that went wrong.
      const lines = shown.split('\n').filter((line) => !/^ *- (option .*"$|\/url:)/.test(line));
      await info.attach('page', { body: [`${who} at ${page.url()}`, ...errors, ...lines].join('\n') });
    }
}

function expectNoErrors(errors: readonly string[], excused: readonly string[]): void {
  expect(
    errors.filter((e) => !excused.some((part) => e.includes(part))),
    'errors in the browser',
  ).toEqual([]);
}

/** A page of the same server: the browser keeps what it runs the server's pages with. */
const showsNothing = '/healthz';

async function emptyPage(context: BrowserContext): Promise<Page> {
  const page = await context.newPage();
  await page.goto(showsNothing);
  return page;
}

/** As somebody who signed in just now: tests of signing in do that by hand, all others have it in the database. */
async function beginSession(context: BrowserContext, origin: string, who: Person): Promise<void> {
  const secret = randomBytes(32).toString('base64url');
  await running!.query(
    `insert into sessions (token_hash, user_id, expires_at, place, agent)
     select sha256(convert_to($1, 'UTF8')), id, now() + interval '1 day', '127.0.0.1', 'Chromium' from users where email = $2`,
    [secret, emailOf(who)],
  );
  await context.addCookies([
    { name: 'rigid_rule_session', value: secret, url: origin, httpOnly: true, sameSite: 'Lax' },
  ]);
}

/** The next test finds a person who just signed in on a page that shows nothing, and what the browser has in its cache. */
async function leaveNothing(browsing: Browsing, origin: string): Promise<void> {
  const { context, cookies } = browsing;
  await context.unrouteAll();
  await context.setOffline(false);
  await context.clearPermissions();
  await context.clearCookies();
  await context.addCookies(cookies);
  if (browsing.page.isClosed() || prepared.has(browsing.page)) browsing.page = await emptyPage(context);
  const { page } = browsing;
  for (const other of context.pages()) if (other !== page) await other.close();
  for (const event of watched) page.removeAllListeners(event);
  await page.unrouteAll();
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.emulateMedia({ colorScheme: null, forcedColors: null, reducedMotion: null });
  await page.mouse.move(-1, -1);
  await page.goto(showsNothing);
  await page.evaluate(() => sessionStorage.clear());
  const session = await context.newCDPSession(page);
  await session.send('Storage.clearDataForOrigin', { origin, storageTypes: 'local_storage,indexeddb' });
  await session.detach();
}

const watched = ['console', 'pageerror', 'response', 'dialog'] as const;
/** Pages that run something before all that they load, which cannot be taken back. */
const prepared = new WeakSet<Page>();
const patient = new WeakSet<Page>();

/** Lets no test act before the page is alive. */
function waitUntilAlive(page: Page): void {
  if (patient.has(page)) return;
  patient.add(page);
  for (const way of ['goto', 'reload'] as const) {
    const go = page[way].bind(page) as (...given: unknown[]) => Promise<Response | null>;
    page[way] = async (...given: unknown[]) => {
      const answer = await go(...given);
      await page.locator('main[inert]').waitFor({ state: 'detached' });
      return answer;
    };
  }
  const prepare = page.addInitScript.bind(page);
  page.addInitScript = (...given) => {
    prepared.add(page);
    return prepare(...given);
  };
}

/** Watches a page for errors until it is left. */
export function watch(page: Page, errors: string[]): void {
  waitUntilAlive(page);
  // What the framework warns of in a built page is a fault of ours: stale values, effects that outlive their page.
  page.on('console', (m) => {
    if (m.type() === 'error' || (m.type() === 'warning' && m.text().includes('svelte.dev/e/')))
      errors.push(`console: ${m.text()}`);
  });
  page.on('pageerror', (e) => errors.push(`page: ${e.message}`));
  page.on('response', (r) => r.status() >= 400 && errors.push(`${r.status()}: ${r.url()}`));
}

export async function signIn(page: Page, who: Person): Promise<void> {
  await page.goto('/sign-in');
  await page.getByLabel('Email', { exact: true }).fill(emailOf(who));
  await page.getByLabel('Password', { exact: true }).fill(password);
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(page.getByRole('navigation', { name: 'Areas' })).toBeVisible();
}

interface Axe {
  run(context: ElementContext, options: RunOptions): Promise<AxeResults>;
}

const everyRule: RunOnly = {
  type: 'tag',
  values: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'],
};
const ofColour: RunOnly = { type: 'rule', values: ['color-contrast', 'link-in-text-block'] };

/**
 * WCAG 2.2 AA as far as axe can tell, in light; in dark only what a colour scheme can change. `within`: only that part,
 * for a dialog over a page that is out of reach meanwhile, and for what is new on a page that another test looks at.
 */
export async function expectAccessible(page: Page, within?: Locator): Promise<void> {
  // What is no text is never shown as one.
  expect(await page.locator('body').innerText()).not.toMatch(/\[object \w+\]|\bNaN\b/);
  const part = within ? '[data-looked-at]' : 'html';
  await within?.evaluate((element) => element.setAttribute('data-looked-at', ''));
  for (const scheme of ['light', 'dark'] as const) {
    await page.emulateMedia({ colorScheme: scheme, reducedMotion: 'reduce' });
    let found = await violationsOf(page, part, scheme);
    // A page that was still being drawn anew is looked at once more; what stays is a fault.
    if (found.length > 0) found = await violationsOf(page, part, scheme);
    expect(found, scheme).toEqual([]);
  }
  await page.emulateMedia({ colorScheme: 'light' });
  await within?.evaluate((element) => element.removeAttribute('data-looked-at'));
}

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

/** The page looks at itself: there are no frames within pages. What it looks with is handed to it once. */
async function violationsOf(page: Page, within: string, scheme: 'light' | 'dark'): Promise<string[]> {
  if (!(await page.evaluate(() => 'axe' in globalThis))) await page.evaluate(axe);
  return page.evaluate(
    async ([within, runOnly]) => {
      await new Promise((drawn) => requestAnimationFrame(() => requestAnimationFrame(drawn)));
      const { axe } = globalThis as unknown as { readonly axe: Axe };
      // Only what is wrong is described.
      const { violations } = await axe.run(within, { resultTypes: ['violations'], preload: false, runOnly });
      return violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.target.join(' ')).join(' | ')}`);
    },
    [within, scheme === 'light' ? everyRule : ofColour] as const,
  );
}

export { expect };

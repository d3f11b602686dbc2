/**
 * A demo installation of its own for each test file: a database made from a template that was filled once, and a web
 * server at its worker's address. Every page fails its test on console errors, failed requests and page errors.
 */
import { test as base, type Browser, type BrowserContext, type Page } from '@playwright/test';
import { spawn, type ChildProcess } from 'node:child_process';
import { createServer } from 'node:net';
import { fileURLToPath } from 'node:url';
import pg from 'pg';
import { createSecret } from '../../web/src/lib/server/auth/secret.ts';
import { ownerHeader } from '../../web/src/lib/page-owner.ts';
import { expect } from './expect.ts';
import { emailOf, password, type Person } from './people.ts';
import { attachPages, emptyPage, leaveNothing, watch, type Browsing } from './pages.ts';

const web = fileURLToPath(new URL('../../web', import.meta.url));
/** The author puts right what keeps the demo's draft from being released: a country that stands twice. */
export async function putDraftRight(author: Page): Promise<void> {
  await author.goto('/findings');
  await author
    .getByRole('button', { name: /^take out row \d+$/i })
    .first()
    .click();
  await expect(author.getByRole('status').filter({ hasText: 'Saved' })).toBeVisible();
}
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

/** @param port 0: one that is free. */
function startServer(
  database: string,
  { demo = true, port = 0, env = {} }: { demo?: boolean; port?: number; env?: Readonly<Record<string, string>> } = {},
): Promise<{ origin: string; child: ChildProcess; said: () => string }> {
  return new Promise((done, fail) => {
    const child = spawn(process.execPath, ['server.mjs'], {
      cwd: web,
      env: {
        ...process.env,
        DATABASE_URL: urlOf(database, process.env['APP_DATABASE_URL']!),
        DATABASE_OWNER_URL: urlOf(database),
        PORT: String(port),
        HOST: '127.0.0.1',
        RIGID_RULE_DEMO: demo ? '1' : '0',
        NODE_ENV: 'production',
        LOG_LEVEL: 'warn',
        ...env,
      },
      stdio: ['ignore', 'pipe', 'pipe', 'ipc'],
    });
    let said = '';
    child.stdout!.on('data', (part) => (said += String(part)));
    child.stderr!.on('data', (part) => {
      said += String(part);
      process.stderr.write(String(part));
    });
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

export interface Installation {
  readonly origin: string;
  /** Runs SQL on the installation's database, to arrange what no screen can. */
  query(sql: string, parameters?: unknown[]): Promise<unknown[]>;
  /** Lets `use` work with a second web server on the same database: one more node. Gives its origin. */
  withNode(use: (origin: string) => Promise<void>): Promise<void>;
  /** What a request of a page of this person carries. */
  headersOf(who: Person): Promise<Record<string, string>>;
}

interface Fixtures {
  /** A page signed in as this person, watched for errors. */
  as: (who: Person) => Promise<Page>;
  /** The same through another node, in a browser of its own. */
  asOn: (origin: string, who: Person) => Promise<Page>;
  /** Errors that a test expects are taken out of the watch by what they contain. */
  expectError: (part: string) => void;
}

interface Running extends Installation {
  readonly file: string;
  /** What the server said went wrong, since this was asked last. */
  faults(): readonly string[];
  stop(): Promise<void>;
}

/** Errors of the log, and what Node warns of: listeners that gather, what is out of use. */
const isFault = /"level":[56]0|^\(node:\d+\) .*Warning/;

let running: Running | undefined;
let count = 0;
/**
 * Browsers that no test uses now. All installations of a worker, one after another, are at one address: what a browser
 * has in its cache of one serves the next.
 */
const idle: Browsing[] = [];
let port: number | undefined;

/** A port below those that systems give to outgoing connections: it is still free when the next server takes it. */
async function freePort(from: number): Promise<number> {
  const isFree = await new Promise<boolean>((done) => {
    const probe = createServer();
    probe.once('error', () => done(false));
    probe.listen(from, '127.0.0.1', () => probe.close(() => done(true)));
  });
  return isFree ? from : freePort(from + 1);
}

/** Files that begin each test on a draft that they empty share an installation. */
const sharing = (file: string): string => /[\\/]e2e[\\/](jobs)[\\/]/.exec(file)?.[1] ?? file;

/** The installation of this test file: made anew when a worker goes on to one that does not share it. */
async function installationOf(testFile: string, worker: number): Promise<Running> {
  const file = sharing(testFile);
  if (running?.file === file) return running;
  await running?.stop();
  const database = `browser_${worker}_${process.pid}_${count++}`;
  await admin((c) => c.query(`create database ${database} template ${process.env['DEMO_TEMPLATE']!}`));
  port ??= await freePort(20_000 + (process.pid % 10_000));
  const { origin, child, said } = await startServer(database, { port });
  let looked = 0;
  const pool = new pg.Pool({ connectionString: urlOf(database), max: 1 });
  running = {
    file,
    origin,
    faults() {
      const lines = said().slice(looked).split('\n');
      looked = said().length;
      return lines.filter((line) => isFault.test(line)).map((line) => `server: ${line.slice(0, 600)}`);
    },
    headersOf: async (who) => {
      const { rows } = await pool.query<{ id: number }>('select id from users where email = $1', [emailOf(who)]);
      return { origin, [ownerHeader]: String(rows[0]!.id) };
    },
    query: async (sql, parameters) => (await pool.query(sql, parameters)).rows as unknown[],
    withNode: async (use) => {
      const other = await startServer(database);
      await use(other.origin).finally(() => stopServer(other.child));
    },
    async stop() {
      running = undefined;
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
  const { origin, child, said } = await startServer(database, { demo: false, env });
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
      const browsing = await beginBrowsing(browser, origin, who);
      contexts.push(browsing.context);
      await haveSession(browsing);
      watch(browsing.page, errors);
      return browsing.page;
    });
    for (const context of contexts) await context.close();
    expectNoErrors(errors, excused);
  },
  as: async ({ browser, installation, errors, excused }, use, info) => {
    const inUse: Browsing[] = [];
    await use(async (who) => {
      const known = idle.findIndex((b) => b.who === who);
      const browsing = known < 0 ? await beginBrowsing(browser, installation.origin, who) : idle.splice(known, 1)[0]!;
      await haveSession(browsing);
      watch(browsing.page, errors);
      inUse.push(browsing);
      return browsing.page;
    });
    if (info.status !== info.expectedStatus) await attachPages(info, inUse, errors);
    for (const browsing of inUse) {
      await leaveNothing(browsing, installation.origin);
      idle.push(browsing);
    }
    expectNoErrors([...errors, ...running!.faults()], excused);
  },
});

function expectNoErrors(errors: readonly string[], excused: readonly string[]): void {
  expect(
    errors.filter((e) => !excused.some((part) => e.includes(part))),
    'errors in the browser',
  ).toEqual([]);
}

/** As somebody who signed in just now: tests of signing in do that by hand, all others have it in the database. */
async function haveSession({ who, session }: Browsing): Promise<void> {
  await running!.query(
    `insert into sessions (token_hash, user_id, expires_at, place, agent)
     select $1, id, now() + interval '1 day', '127.0.0.1', 'Chromium' from users where email = $2
     on conflict do nothing`,
    [session.digest, emailOf(who)],
  );
}

async function beginBrowsing(browser: Browser, origin: string, who: Person): Promise<Browsing> {
  const session = createSecret();
  const context = await browser.newContext({ baseURL: origin });
  await context.addCookies([
    { name: 'rigid_rule_session', value: session.secret, url: origin, httpOnly: true, sameSite: 'Lax' },
  ]);
  return { who, session, context, page: await emptyPage(context), cookies: await context.cookies() };
}

export async function signIn(page: Page, who: Person): Promise<void> {
  await page.goto('/sign-in');
  await page.getByLabel('Email', { exact: true }).fill(emailOf(who));
  await page.getByLabel('Password', { exact: true }).fill(password);
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(page.getByRole('navigation', { name: 'Areas' })).toBeVisible();
}

export { password, people, type Person } from './people.ts';
export { expectAccessible } from './accessible.ts';
export { expect };

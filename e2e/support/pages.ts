/** Pages of the browser tests: watched for errors, and kept from test to test. */
import type { createSecret } from '../../web/src/lib/server/auth/secret.ts';
import type { Person } from './people.ts';
import type { BrowserContext, Page, Response, TestInfo } from '@playwright/test';

/**
 * A browser of one person's own, kept from test to test with its page: what was loaded once comes from its cache, and
 * what was compiled once is compiled. A page begun anew for each test costs 0.8 s of processor time.
 */
export interface Browsing {
  readonly who: Person;
  /** Of its session: its secret and what the database has of it. */
  readonly session: ReturnType<typeof createSecret>;
  readonly context: BrowserContext;
  page: Page;
  /** As beginning left them. */
  readonly cookies: Awaited<ReturnType<BrowserContext['cookies']>>;
}

/** A page of the same server: the browser keeps what it runs the server's pages with. */
const showsNothing = '/healthz';

export async function emptyPage(context: BrowserContext): Promise<Page> {
  const page = await context.newPage();
  await page.goto(showsNothing);
  return page;
}

/** The next test finds a person who just signed in on a page that shows nothing, and what the browser has in its cache. */
export async function leaveNothing(browsing: Browsing, origin: string): Promise<void> {
  const { context, cookies } = browsing;
  await context.unrouteAll();
  await context.setOffline(false);
  await context.clearPermissions();
  if (browsing.page.isClosed() || prepared.has(browsing.page)) browsing.page = await emptyPage(context);
  const { page } = browsing;
  for (const other of context.pages()) if (other !== page) await other.close();
  for (const event of watched) page.removeAllListeners(event);
  await page.unrouteAll();
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.emulateMedia({ media: null, colorScheme: null, forcedColors: null, reducedMotion: null });
  await page.mouse.move(-1, -1);
  await page.goto(showsNothing);
  // What a page sends until it is left, it sends as who it was.
  await context.clearCookies();
  await context.addCookies(cookies);
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

/** As a link in the page is followed: what the page worked out stays worked out, which loading it anew loses. */
export async function followLink(page: Page, address: string): Promise<void> {
  const from = page.url();
  await page.evaluate((address) => {
    const link = document.body.appendChild(document.createElement('a'));
    link.href = address;
    link.click();
    link.remove();
  }, address);
  await page.waitForURL((now) => now.href !== from);
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

/** What stood on the pages of a test that failed: a fault that comes once in a hundred runs is found by nothing else. */
export async function attachPages(
  info: TestInfo,
  inUse: readonly Browsing[],
  errors: readonly string[],
): Promise<void> {
  for (const { who, context } of inUse)
    for (const page of context.pages()) {
      const shown = await page.locator('main').ariaSnapshot({ timeout: 5_000 }).catch(String);
      // What could be chosen, and where links lead, is told by nothing that went wrong.
      const lines = shown.split('\n').filter((line) => !/^ *- (option .*"$|\/url:)/.test(line));
      await info.attach('page', { body: [`${who} at ${page.url()}`, ...errors, ...lines].join('\n') });
    }
}

/** How the built server and the start command stand on a network. */
import { spawn } from 'node:child_process';
import { request } from 'node:http';
import { expect, test, withEmptyInstallation } from './support/installation.ts';

interface Answer {
  readonly status: number;
  readonly headers: Readonly<Record<string, string | string[] | undefined>>;
}

interface Asked {
  readonly path?: string;
  readonly method?: string;
}

/** Asked as the browser would not let a page ask: under any name, and as a proxy would. */
function ask(
  origin: string,
  headers: Record<string, string>,
  { path = '/healthz', method = 'GET' }: Asked = {},
): Promise<Answer> {
  return new Promise((done, fail) => {
    const asked = request(origin + path, { method, headers }, (res) => {
      res.resume().once('end', () => done({ status: res.statusCode!, headers: res.headers }));
    });
    asked.once('error', fail).end();
  });
}

const https = { 'x-forwarded-proto': 'https' };

test('only hosts that are named are served, with or without a port', async () => {
  const served = async ({ origin }: { origin: string }) => {
    const statusOf = async (host: string) => (await ask(origin, { host })).status;
    expect(await statusOf('rules.example')).toBe(200);
    expect(await statusOf('RULES.example:443')).toBe(200);
    expect(await statusOf('other.example:8443')).toBe(200);
    expect(await statusOf('other.example')).toBe(421);
    expect(await statusOf('rules.example.attacker.example')).toBe(421);
    expect(await statusOf(new URL(origin).host)).toBe(421);
  };
  await withEmptyInstallation(served, { ALLOWED_HOSTS: 'rules.example, other.example:8443' });
});

test('browsers are held to TLS where a proxy that is trusted speaks it, and only there', async () => {
  const hsts = async (origin: string, headers: Record<string, string>) =>
    (await ask(origin, headers)).headers['strict-transport-security'];
  const trusting = async ({ origin }: { origin: string }) => {
    expect(await hsts(origin, https)).toMatch(/^max-age=\d{8}/);
    expect(await hsts(origin, {})).toBeUndefined();
  };
  await withEmptyInstallation(trusting, { TRUST_PROXY: '1' });
  await withEmptyInstallation(async ({ origin }) => expect(await hsts(origin, https)).toBeUndefined());
});

test('every answer carries the headers that keep it from harm, whoever makes it', async () => {
  const answers: [status: number, asked: Asked, headers?: Record<string, string>][] = [
    [200, { path: '/sign-in' }],
    [200, { path: '/_app/version.json' }],
    [303, { path: '/records' }],
    [308, { path: '/sign-in/' }],
    [401, { path: '/api/draft/parts' }],
    [401, { path: '/api/v1/records/customer/1' }],
    [403, { path: '/sign-in', method: 'POST' }, { origin: 'http://evil.example' }],
    [404, { path: '/nowhere' }],
    [404, { path: '/_app/immutable/nothing.js' }],
    [405, { path: '/healthz', method: 'DELETE' }],
    [413, { path: '/setup', method: 'POST' }, { 'content-type': 'text/plain', 'transfer-encoding': 'chunked' }],
    [421, {}, { host: 'elsewhere.example' }],
  ];
  const look = async ({ origin }: { origin: string }) => {
    const { host } = new URL(origin);
    for (const [status, asked, headers] of answers) {
      const answer = await ask(origin, { host, origin, ...headers }, asked);
      expect.soft({ ...asked, status: answer.status }).toEqual({ ...asked, status });
      expect.soft(answer.headers, JSON.stringify(asked)).toMatchObject({
        'x-content-type-options': 'nosniff',
        'referrer-policy': 'same-origin',
        'content-security-policy': expect.stringMatching(/default-src '(none|self)'.*frame-ancestors 'none'/),
      });
    }
  };
  await withEmptyInstallation(look, { ALLOWED_HOSTS: '127.0.0.1' });
});

test('the demo, whose passwords anybody can read, is not started where others reach it', async () => {
  const child = spawn('node', ['scripts/start.mjs'], { env: { ...process.env, HOST: '0.0.0.0', PORT: '0' } });
  let said = '';
  child.stdout.on('data', (d) => (said += String(d)));
  child.stderr.on('data', (d) => (said += String(d)));
  const code = await new Promise((done) => child.once('exit', done));
  expect(code).toBe(1);
  expect(said).toContain('HOST=0.0.0.0 lets others reach the demo');
});

test('a page takes no more script than was agreed, and a form has the engine once somebody is about to type', async ({
  as,
}) => {
  const page = await as('keeper');
  /** Compressed, in kB: all that was asked for until the page had loaded. */
  const weight = async (path: string, on = page) => {
    await on.goto(path, { waitUntil: 'load' });
    const bytes = await on.evaluate(() => {
      const [nav] = performance.getEntriesByType('navigation') as PerformanceNavigationTiming[];
      return (performance.getEntriesByType('resource') as PerformanceResourceTiming[])
        .filter((r) => r.name.endsWith('.js') && r.startTime <= nav!.loadEventEnd)
        .reduce((sum, r) => sum + r.encodedBodySize, 0);
    });
    return Math.round(bytes / 1000);
  };
  const found = {
    desk: await weight('/desk/customer/size-class-from-employee-count', await as('author')),
    list: await weight('/records/customer'),
    form: await weight('/records/customer/7'),
  };
  test.info().annotations.push({ type: 'kB', description: JSON.stringify(found) });
  expect(found.desk).toBeLessThanOrEqual(195);
  expect(found.list).toBeLessThanOrEqual(85);
  expect(found.form).toBeLessThanOrEqual(95);
  const scripts = () =>
    page.evaluate(() => performance.getEntriesByType('resource').filter((r) => r.name.endsWith('.js')).length);
  const before = await scripts();
  const count = page.getByLabel('Employee count', { exact: true });
  await count.focus();
  await expect.poll(scripts).toBeGreaterThan(before);
  await count.fill('1334');
  await expect(page.locator('[data-field=size_class] [data-value]')).toHaveText('Large');
  // The rules come once and are kept: they are those of a release, which never change.
  const rules = await page.request.get('/api/records/customer/rules?release=1');
  expect(rules.headers()['cache-control']).toContain('immutable');
  expect((await page.request.get('/api/records/customer/rules?release=999')).status()).toBe(404);
});

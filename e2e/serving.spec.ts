/** How the built server and the start command stand on a network. */
import { spawn } from 'node:child_process';
import { request } from 'node:http';
import { connect } from 'node:net';
import { firstLoad } from './support/first-load.ts';
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

test('behind a proxy that speaks TLS a page may send what it is filled with, and a page from elsewhere may not', async () => {
  const form = {
    'content-type': 'application/x-www-form-urlencoded',
    'content-length': '0',
    host: 'rules.example',
    accept: 'text/html',
  };
  const post = async (at: string, origin: string, headers = {}) =>
    (await ask(at, { ...form, origin, ...headers }, { path: '/sign-in', method: 'POST' })).status;
  const served = async ({ origin: at }: { origin: string }) => {
    expect(await post(at, 'https://rules.example', https)).toBe(400); // nothing is filled in
    expect(await post(at, 'http://rules.example', https)).toBe(403);
    expect(await post(at, 'https://other.example', https)).toBe(403);
  };
  await withEmptyInstallation(served, { TRUST_PROXY: '1' });
  const told = async ({ origin: at }: { origin: string }) => {
    expect(await post(at, 'https://rules.example')).toBe(400);
    expect(await post(at, 'http://rules.example', { 'x-forwarded-proto': 'http' })).toBe(403);
  };
  await withEmptyInstallation(told, { ORIGIN: 'https://rules.example/' });
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
    [200, { path: '/healthz', method: 'HEAD' }],
  ];
  const look = async ({ origin }: { origin: string }) => {
    const { host } = new URL(origin);
    for (const [status, asked, headers] of answers) {
      const answer = await ask(origin, { host, origin, ...headers }, asked);
      expect.soft({ ...asked, status: answer.status }).toEqual({ ...asked, status });
      expect.soft(answer.headers, JSON.stringify(asked)).toMatchObject({
        'x-content-type-options': 'nosniff',
        'referrer-policy': 'same-origin',
        'cache-control': asked.path?.startsWith('/_app/') ? expect.any(String) : 'no-store',
        'content-security-policy': expect.stringMatching(/default-src '(none|self)'.*frame-ancestors 'none'/),
      });
    }
  };
  await withEmptyInstallation(look, { ALLOWED_HOSTS: '127.0.0.1' });
});

/** Sent as it is; the status of the answer, or none where the connection was closed without one. */
function sendRaw(origin: string, text: string): Promise<number | undefined> {
  return new Promise((done, fail) => {
    let said = '';
    const socket = connect(Number(new URL(origin).port), '127.0.0.1', () => socket.write(text, 'latin1'));
    socket.on('data', (d) => (said += d.toString('latin1')));
    socket.once('error', fail).once('close', () => done(said ? Number(said.split(' ')[1]) : undefined));
  });
}

test('no request, however it is written, ends the server or is a fault of its', async () => {
  const file = '/_app/version.json';
  const requests: [line: string, ...headers: string[]][] = [
    ...['5-2', '-', '-5', '5-', 'x', '0-99999999999999999999', '0-0,2-3', '%00'].map((range): [string, string] => [
      `GET ${file}`,
      `Range: bytes=${range}`,
    ]),
    [`HEAD ${file}`, 'Range: bytes=9-1'],
    ...[
      '/%',
      '/%E0%A4%A',
      '//evil.example/x',
      'http://evil.example/sign-in',
      '*',
      '/_app/%2e%2e/%2e%2e/server.mjs',
    ].map((path): [string] => [`GET ${path}`]),
    ...['/..%2f..%2fserver.mjs', '/_app/../../package.json', `/${'a'.repeat(9000)}`, '/records/%00'].map(
      (path): [string] => [`GET ${path}`],
    ),
    ...['TRACE', 'OPTIONS', 'PROPFIND', 'CONNECT', 'PUT'].map((method): [string] => [`${method} ${file}`]),
    ['GET /sign-in', 'Host: a b'],
    ['GET /sign-in', 'Host: [::'],
    ['GET /sign-in', 'Host: x/y@z'],
    ['GET /sign-in', 'X-Forwarded-Proto: javascript'],
    ['GET /sign-in', 'Accept-Encoding: gzip;q=abc, *;q=0'],
    ['GET /nowhere', `Accept: ${'a/b;q=zz,'.repeat(500)}`],
    ['GET /records', 'Cookie: session=%00%ff; theme="><script>'],
    [`GET ${file}`, `If-None-Match: ${'x'.repeat(5000)}`],
    ['POST /sign-in', 'Content-Length: 99999999999', 'Content-Type: application/x-www-form-urlencoded'],
    ['POST /sign-in', 'Content-Length: 0', 'Content-Type: multipart/form-data'],
    ['POST /api/v1/records/customer', 'Content-Length: -1'],
    ['POST /api/v1/records/customer', 'Transfer-Encoding: chunked', 'Content-Length: 3'],
    ['POST /sign-in', 'Expect: 200-maybe', 'Content-Length: 0'],
  ];
  await withEmptyInstallation(async ({ origin }) => {
    const { host } = new URL(origin);
    const faults: string[] = [];
    for (const [line, ...headers] of requests) {
      const own = headers.some((h) => h.startsWith('Host:')) ? [] : [`Host: ${host}`];
      const text = [`${line} HTTP/1.1`, ...own, `Origin: ${origin}`, 'Connection: close', ...headers, '', ''].join(
        '\r\n',
      );
      const status = await sendRaw(origin, text);
      if (status !== undefined && status >= 500) faults.push(`${status} ${line} ${headers.join(' ')}`.slice(0, 150));
    }
    expect(faults).toEqual([]);
    expect((await ask(origin, {})).status).toBe(200);
  });
});

test('after an error that nobody caught who is served is served to the end, and nobody after', async () => {
  // Throws where nobody can catch it, while the request for /fault is on its way.
  const faulty = `import http from 'node:http';
    const { emit } = http.Server.prototype;
    http.Server.prototype.emit = function (name, request, ...more) {
      if (name === 'request' && request.url === '/fault') setImmediate(() => { throw new Error('nobody catches this'); });
      return emit.call(this, name, request, ...more);
    };`;
  const look = async ({ origin }: { origin: string }) => {
    expect((await ask(origin, {})).status).toBe(200);
    expect((await ask(origin, {}, { path: '/fault' })).status).toBe(404);
    const refused = () =>
      ask(origin, {}).then(
        () => 'served',
        (e: NodeJS.ErrnoException) => e.code,
      );
    await expect.poll(refused).toBe('ECONNREFUSED');
  };
  const module = `data:text/javascript,${encodeURIComponent(faulty)}`;
  await withEmptyInstallation(look, { NODE_OPTIONS: `--import "${module}"` });
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
  const found = {
    desk: await firstLoad(await as('author'), '/desk/customer/size-class-from-employee-count'),
    list: await firstLoad(page, '/records/customer'),
    form: await firstLoad(page, '/records/customer/7'),
  };
  test.info().annotations.push({ type: 'kB', description: JSON.stringify(found) });
  expect(found.desk).toBeLessThanOrEqual(150);
  expect(found.list).toBeLessThanOrEqual(76);
  expect(found.form).toBeLessThanOrEqual(90);
  await page.goto('/records/customer/7');
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

test('a page of an earlier version says so where a part of it is not there any more, and what was edited is kept', async ({
  as,
  expectError,
}) => {
  expectError('404');
  expectError('dynamically imported module');
  const page = await as('author');
  await page.goto('/desk/customer/size-class-from-employee-count');
  await expect(page.getByText(/sample 1 of/)).toBeVisible();
  // As where a newer one is served: parts have other names.
  await page.route('**/_app/immutable/**', (route) => route.fulfill({ status: 404, body: 'Not found' }));
  await page.route('**/_app/version.json', (route) => route.fulfill({ json: { version: 'the next one' } }));
  const footer = page.getByRole('status').filter({ hasText: 'This page is of an earlier version of Rigid Rule.' });
  await page.keyboard.press('Control+k');
  await expect(footer).toBeVisible();
  await page.getByLabel('Purpose', { exact: true }).fill('Written in the former version.');
  await page.unrouteAll();
  await footer.getByRole('button', { name: 'Load it again' }).click();
  await expect(footer).toHaveCount(0);
  await expect(page.getByLabel('Purpose', { exact: true })).toHaveValue('Written in the former version.');
});

test('a dry run whose worker cannot be had, or ends, fails in words and can be begun again', async ({
  as,
  expectError,
}) => {
  expectError('404');
  const page = await as('author');
  await page.route('**/workers/dry-run*', (route) => route.fulfill({ status: 404, body: 'Not found' }));
  await page.goto('/dry-run/customer');
  await expect(page.getByText(/^The dry run failed/)).toBeVisible();
  await page.unrouteAll();
  await page.keyboard.press('Control+k');
  await page.keyboard.type('Run it again');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/records in \d/)).toBeVisible();
});

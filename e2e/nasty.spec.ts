/** Whatever is sent to whichever route, the answer is in words: never a fault of the server. */
import { readdirSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { expect, test } from './support/installation.ts';

const routes = fileURLToPath(new URL('../web/src/routes', import.meta.url));
/** Addresses with a server part, their parameters still to be filled in. */
const addresses = readdirSync(routes, { recursive: true, encoding: 'utf8' })
  .filter((file) => /\+(?:page\.)?server\.ts$/.test(file))
  .map((file) => ({
    path: `/${file
      .replace(/\/?\+(?:page\.)?server\.ts$/, '')
      .replace(/\([^)]+\)\/?/g, '')
      .replace(/\/$/, '')}`,
    page: file.includes('+page.'),
  }))
  // A stream that never ends is not an answer to wait for.
  .filter(({ path }) => path !== '/api/draft/events' && path !== '/sign-out');

const long = 'x'.repeat(4000);
const parts = [
  'constructor',
  '__proto__',
  '%00',
  '%ED%A0%80',
  '99999999999999999999',
  '1e20',
  '-1',
  '..%2F..',
  long,
  'deal',
  '1',
];
const queries = [
  '',
  '?offset=1e20&sort=constructor&desc=1&q=%00&cols=__proto__,constructor',
  '?only.constructor=%00&from.amount=99999999999999999999&to.amount=1e999&has.title=%00&is.title=no&sort=amount',
  '?offset=-5&only.stage=%ED%A0%80,&from.stage_changed_at=9999-99-99&to.stage_changed_at=9999-12-31&form=%00&next=%2F%09%2Fx.example',
  `?q=${long}&release=1e20&page=%00&sample=NaN&field=constructor`,
];
const deep = (levels: number): string => `${'{"a":'.repeat(levels)}1${'}'.repeat(levels)}`;
const record = (sent: object) =>
  JSON.stringify({ form: 'full', sent, typed: Object.keys(sent), woken: ['constructor'], handBack: ['__proto__'] });
const edits = (edit: object) =>
  JSON.stringify({ page: '', edits: [{ kind: 'rule', key: 'x', version: 0, operations: [], ...edit }] });
const add = (value: unknown) => ({ operations: [{ op: 'add', path: '', value }] });
const bodies = [
  'null',
  '[]',
  '{}',
  '"\\u0000"',
  '{"a":',
  '1e400',
  deep(20_000),
  record({ name: '\u0000', title: '\ud800', amount: 1e308, constructor: 1, stage: { a: [] } }),
  record({ name: 'a', __proto__: null, employee_count: '9'.repeat(400) }),
  record(JSON.parse(deep(500)) as object),
  JSON.stringify({
    queries: [{ table: 'country-table', keys: ['constructor', '\u0000', [null, '__proto__'], null] }],
    release: 1,
  }),
  JSON.stringify({
    asks: [{ kind: 'match', recordType: 'constructor', field: '__proto__', mode: 'exact', value: '\u0000' }],
  }),
  JSON.stringify({
    asks: [
      { kind: 'record', recordType: '\u0000', id: '\ud800' },
      { kind: 'children', recordType: 'deal', field: '\u0000', id: '1e20' },
    ],
  }),
  edits(add({ key: 'x', name: '\u0000' })),
  edits({ key: '\u0000', ...add({ key: '\u0000' }) }),
  edits({ operations: [{ op: 'replace', path: '/constructor/prototype/x', value: '\ud800' }] }),
  edits({ position: 1e308, version: 2147483648, id: '00000000-0000-0000-0000-000000000000' }),
  JSON.stringify({ theme: '\u0000', name: '\u0000', reason: '\ud800', number: 1e20, role: 'constructor' }),
];

test('no input makes a route fail', async ({ as, expectError }) => {
  test.setTimeout(300_000);
  expectError('');
  const page = await as('author');
  const origin = new URL(page.url() === 'about:blank' ? (await page.goto('/settings'))!.url() : page.url()).origin;
  const cookie = (await page.context().cookies()).map((c) => `${c.name}=${c.value}`).join('; ');
  const faults: string[] = [];
  let asked = 0;
  async function ask(method: 'GET' | 'POST', path: string, data?: string, type = 'application/json'): Promise<void> {
    asked++;
    const headers = { origin, cookie, ...(data ? { 'content-type': type } : {}) };
    const send = () => fetch(origin + path, { method, headers, redirect: 'manual', ...(data ? { body: data } : {}) });
    // A server that answers before it has read a long body may close the connection under the sender: asked once more.
    const answer = await send().catch(send);
    await answer.arrayBuffer();
    if (answer.status >= 500)
      faults.push(`${answer.status} ${method} ${path.slice(0, 120)} ${data?.slice(0, 120) ?? ''}`);
    const location = answer.headers.get('location');
    if (location && new URL(location, origin).origin !== origin)
      faults.push(`${path.slice(0, 120)} leads to ${location}`);
  }
  const filled = (path: string, part: string) => path.replace(/\[\[?[^\]]+\]\]?/g, part);
  for (const { path, page: isPage } of addresses) {
    const all = path.includes('[') ? parts.map((p) => filled(path, p)) : [path];
    const usual = filled(path.replace(/\[type\]/g, 'deal'), '1');
    for (const address of new Set([...all, usual])) {
      const quick = address === usual || address === path;
      for (const query of quick ? queries : queries.slice(0, 1)) await ask('GET', address + query);
      if (!isPage && quick) for (const body of bodies) await ask('POST', address, body);
      else if (!isPage) await ask('POST', address, bodies[7]);
    }
    if (isPage) await ask('POST', usual, 'email=%00&password=%ED%A0%80&name=%00', 'application/x-www-form-urlencoded');
  }
  expect(asked).toBeGreaterThan(300);
  expect(faults).toEqual([]);
});

/** Whatever is sent to whichever route, the answer is in words: never a fault of the server. */
import { readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { Page } from '@playwright/test';
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
    actions: actionsIn(readFileSync(`${routes}/${file}`, 'utf8')),
  }))
  // A stream that never ends is not an answer to wait for.
  .filter(({ path }) => path !== '/api/draft/events' && path !== '/sign-out');

/** Names of a page's actions, as an address gives them. */
function actionsIn(module: string): readonly string[] {
  const [, actions = ''] = module.split(/^export const actions\b/m);
  return [...actions.matchAll(/^ {2}(\w+): async/gm)].map(([, name]) => (name === 'default' ? '' : `?/${name}`));
}

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

const fields = [
  ...[
    'email',
    'password',
    'name',
    'role',
    'days',
    'id',
    'note',
    'number',
    'release',
    'hash',
    'stamp',
    'current',
    'next',
  ],
  ...['token', 'write', 'constructor', '__proto__'],
];
const parted = (value: string) =>
  [...fields.flatMap((name) => ['--x', `Content-Disposition: form-data; name="${name}"${value}`]), '--x--', ''].join(
    '\r\n',
  );
const forms: readonly (readonly [type: string, body: string])[] = [
  ...['%00', '%ED%A0%80', '1e400', '-1', '', long, '%', '__proto__'].map(
    (value) => ['application/x-www-form-urlencoded', fields.map((f) => `${f}=${value}`).join('&')] as const,
  ),
  ['application/x-www-form-urlencoded', '&&&=&==&%'],
  ['multipart/form-data', 'x'],
  ['multipart/form-data; boundary=x', 'x'],
  ['multipart/form-data; boundary=x', parted('\r\n\r\n\u0000')],
  // A file where a text is meant.
  ['multipart/form-data; boundary=x', parted('; filename="a.txt"\r\nContent-Type: text/plain\r\n\r\nx')],
  ['text/plain', 'email=a'],
  ['', 'email=a'],
];

/** Sends as somebody who is signed in; notes what is no answer in words, and what leads elsewhere. */
async function sender(page: Page, own: Readonly<Record<string, string>>) {
  const { origin } = new URL(page.url());
  const cookie = (await page.context().cookies()).map((c) => `${c.name}=${c.value}`).join('; ');
  const statuses: number[] = [];
  const faults: string[] = [];
  async function ask(method: 'GET' | 'POST', path: string, data?: string, type = 'application/json'): Promise<void> {
    const headers = { ...own, cookie, ...(data ? { 'content-type': type } : {}) };
    const send = () => fetch(origin + path, { method, headers, redirect: 'manual', ...(data ? { body: data } : {}) });
    // A server that answers before it has read a long body may close the connection under the sender: asked once more.
    const answer = await send().catch(send);
    // Refused before it came to its route, it tries nothing.
    if (/does not say whose it is|Somebody else/.test(await answer.text())) faults.push(`${path} says for nobody`);
    statuses.push(answer.status);
    if (answer.status >= 500)
      faults.push(`${answer.status} ${method} ${path.slice(0, 120)} ${type} ${data?.slice(0, 120) ?? ''}`);
    const location = answer.headers.get('location');
    if (location && new URL(location, origin).origin !== origin)
      faults.push(`${path.slice(0, 120)} leads to ${location}`);
  }
  return { ask, statuses, faults };
}

test('no input makes a route fail', async ({ as, expectError, installation }) => {
  test.setTimeout(300_000);
  expectError('');
  const { ask, statuses, faults } = await sender(await as('author'), await installation.headersOf('author'));
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
  }
  expect(statuses.length).toBeGreaterThan(300);
  expect(faults).toEqual([]);
});

test('no form makes an action fail', async ({ as, expectError, installation }) => {
  expectError('');
  const { ask, statuses, faults } = await sender(await as('releaser'), await installation.headersOf('releaser'));
  for (const { path, actions } of addresses)
    for (const action of actions) for (const [type, body] of forms) await ask('POST', path + action, body, type);
  expect(statuses.length).toBeGreaterThan(100);
  expect(statuses).not.toContain(401);
  expect(statuses).not.toContain(403);
  expect(faults).toEqual([]);
});

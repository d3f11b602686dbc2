import { afterEach, expect, it, vi } from 'vitest';
import { ask, askAs, askPatiently, isUnreached, whyNot } from './network.ts';

afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

it.each<[string, unknown, boolean]>([
  ['Chromium', new TypeError('Failed to fetch'), true],
  ['Firefox', new TypeError('NetworkError when attempting to fetch resource.'), true],
  ['Safari', new TypeError('Load failed'), true],
  ['an answer that breaks off in Chromium', new TypeError('network error'), true],
  ['a part in Chromium', new TypeError('Failed to fetch dynamically imported module: http://x.example/a.js'), true],
  ['a part in Firefox', new TypeError('error loading dynamically imported module: http://x.example/a.js'), true],
  ['the styles of a part', new Error('Unable to preload CSS for /a.css'), true],
  ['a fault of ours', new TypeError("Cannot read properties of undefined (reading 'name')"), false],
  ['what is no error', 'Failed to fetch', false],
])('%s says that the server was not reached, or something else', (_, thrown, unreached) => {
  expect(isUnreached(thrown)).toBe(unreached);
});

it.each([
  ['a question', undefined, 30_000],
  ['a megabyte', 'x'.repeat(1_000_000), 80_000],
])(
  '%s that nobody answers is waited for as long as that takes on a slow network, and no longer',
  async (_, body, ms) => {
    vi.useFakeTimers();
    const never = (_: string, { signal }: { readonly signal: AbortSignal }) =>
      new Promise((_, fail) => signal.addEventListener('abort', () => fail(signal.reason as Error)));
    vi.stubGlobal('fetch', never);
    const thrown = ask('/x', { method: 'POST', ...(body === undefined ? {} : { body }) }).catch((e: unknown) => e);
    await vi.advanceTimersByTimeAsync(ms - 1);
    expect(vi.getTimerCount()).toBe(1);
    await vi.advanceTimersByTimeAsync(1);
    expect(isUnreached(await thrown)).toBe(true);
  },
);

it('of an answer that never begins people are told in words', async () => {
  vi.stubGlobal('fetch', () => Promise.reject(new TypeError('Failed to fetch')));
  const thrown = await ask('/x').catch((e: unknown) => e);
  expect([(thrown as Error).message, isUnreached(thrown)]).toEqual(['The network is away.', true]);
});

it('a question that is answered leaves nothing behind', async () => {
  vi.useFakeTimers();
  vi.stubGlobal('fetch', () => Promise.resolve(new Response('x')));
  expect(await (await ask('/x')).text()).toBe('x');
  expect(vi.getTimerCount()).toBe(0);
});

it('requests say whose page they come from, beside what else they carry', async () => {
  const sent: unknown[] = [];
  vi.stubGlobal('fetch', (_: string, { headers }: RequestInit) => {
    sent.push(headers);
    return Promise.resolve(new Response());
  });
  await ask('/x');
  askAs(7);
  await ask('/x', { headers: { accept: 'text/csv' } });
  await askPatiently('/x');
  expect(sent).toEqual([{}, { accept: 'text/csv', 'rigid-rule-user': '7' }, { 'rigid-rule-user': '7' }]);
});

it.each([
  [401, '{"message":"Your session has ended."}', 'Your session has ended.'],
  [503, '{"message":"The database is away."}', 'The database is away.'],
  [503, 'Bad gateway', 'The rows could not be read.'],
  [403, '{"message":7}', 'The rows could not be read.'],
  [422, '{"message":"asks: has to be a list"}', 'The rows could not be read.'],
])('of an answer %i %s is told: %s', async (status, body, told) => {
  expect((await whyNot(new Response(body, { status }), 'The rows could not be read.')).message).toBe(told);
});

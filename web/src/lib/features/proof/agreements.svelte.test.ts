import { afterEach, expect, it, vi } from 'vitest';
import { Agreements } from './agreements.svelte.ts';

afterEach(() => vi.unstubAllGlobals());

const move = (to: string) => ({ field: 'size', from: 'Small', to, records: 3 });
const kept = { agreements: [] };

/** What the server answers to each `POST`, in order; to a `GET` that nothing is agreed, or what is given. */
function server(posts: readonly (number | 'away')[], get: number | 'away' = 200): string[] {
  const sent: string[] = [];
  const answer = (status: number | 'away'): Promise<Response> =>
    status === 'away'
      ? Promise.reject(new TypeError('Failed to fetch'))
      : Promise.resolve(Response.json(status === 200 ? kept : { message: 'Your session has ended.' }, { status }));
  vi.stubGlobal('fetch', (_: string, { method, body }: RequestInit) => {
    if (method !== 'POST') return answer(get);
    sent.push((JSON.parse(body as string) as { to: string }).to);
    return answer(posts[sent.length - 1]!);
  });
  return sent;
}

it.each<[string, number | 'away', string | undefined]>([
  ['is read', 200, undefined],
  ['cannot be reached', 'away', 'What was agreed could not be read. The network is away.'],
  ['is refused', 401, 'What was agreed could not be read. Your session has ended.'],
  ['is in trouble', 500, 'What was agreed could not be read. The server gave no answer.'],
])('where what was agreed %s, it is said', async (_, get, problem) => {
  server([], get);
  const agreements = new Agreements();
  await agreements.load();
  expect(agreements.problem).toBe(problem);
});

it.each<[string, readonly (number | 'away')[], readonly string[], string | undefined]>([
  ['all are kept', [200, 200], ['Medium', 'Large'], undefined],
  ['the first is lost', ['away', 200], ['Medium'], 'That could not be kept. The network is away.'],
  ['the second is refused', [200, 401], ['Medium', 'Large'], 'That could not be kept. Your session has ended.'],
])('of several that are agreed at once %s: no later one hides that', async (_, posts, tried, problem) => {
  const sent = server(posts);
  const agreements = new Agreements();
  await agreements.agreeAll('firm', [move('Medium'), move('Large')]);
  expect([sent, agreements.problem]).toEqual([tried, problem]);
});

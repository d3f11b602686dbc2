/** A page that missed something reads the draft until it has it. */
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import type { VersionedPart } from '$lib/draft-protocol.ts';
import { Draft } from './draft.svelte.ts';
import { followDraft } from './follow.ts';
import { ruleBody, ruleRef as ref } from './test-rule.ts';

const events = new EventTarget();
class Source {
  addEventListener = events.addEventListener.bind(events);
  close = vi.fn();
}
const parts = (name: string, version: number): { parts: readonly VersionedPart[] } => ({
  parts: [{ ...ref('a'), version, position: 0, body: ruleBody('a', name) }],
});
/** One that is read within microtasks, as faked timers have it: streams of real ones take longer on a busy machine. */
const responseOf = (body: unknown, status = 200): Response =>
  ({ ok: status < 400, status, json: () => Promise.resolve(body) }) as Response;
const nameIn = (draft: Draft) => (draft.part(ref('a'))?.body as { name: string }).name;

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal('EventSource', Source);
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

it('asks again where the network is away, once more for what it misses meanwhile, and no more once it is left', async () => {
  const draft = new Draft(parts('first', 1).parts, { editable: true, owner: 'tomas' });
  const answers = [
    () => Promise.reject(new Error('Failed to fetch')),
    () => Promise.resolve(responseOf({}, 503)),
    () => {
      events.dispatchEvent(new Event('missed'));
      return Promise.resolve(responseOf(parts('second', 2)));
    },
    () => Promise.resolve(responseOf(parts('third', 3))),
    () => Promise.resolve(responseOf({}, 401)),
    () => Promise.reject(new Error('Failed to fetch')),
  ];
  const fetch = vi.fn(() => answers.shift()!());
  vi.stubGlobal('fetch', fetch);
  const leave = followDraft(draft, '');
  events.dispatchEvent(new Event('missed'));
  await vi.advanceTimersByTimeAsync(60_000);
  expect([nameIn(draft), fetch.mock.calls.length]).toEqual(['third', 4]);
  events.dispatchEvent(new Event('missed'));
  await vi.advanceTimersByTimeAsync(60_000);
  expect(fetch.mock.calls.length, 'who is signed out does not ask on').toBe(5);
  events.dispatchEvent(new Event('missed'));
  await vi.advanceTimersByTimeAsync(0);
  leave();
  await vi.advanceTimersByTimeAsync(60_000);
  expect(fetch.mock.calls.length).toBe(6);
});

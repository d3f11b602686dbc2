import { expect, it, vi } from 'vitest';
import { longAway, SignedIn, type Presence } from './presence.svelte.ts';

const owner = 3;
const signedIn = (look: () => Promise<number | null | undefined> = () => Promise.resolve(owner)) => {
  const tell = vi.fn();
  const looked = vi.fn(look);
  return { own: new SignedIn(owner, { tell, look: looked }), tell, looked };
};

it('a page that opens tells the others who is signed in', () => {
  expect(signedIn().tell.mock.calls).toEqual([[owner]]);
});

it.each<[string, readonly (number | null)[], Presence]>([
  ['nobody else came', [owner], 'here'],
  ['the session ended', [null], 'gone'],
  ['somebody else came', [null, 4], 'another'],
  ['its own person came back', [null, owner], 'here'],
  ['its own person came back after somebody else', [null, 4, null, owner], 'here'],
])('where %s it is known', (_, heard, presence) => {
  const { own } = signedIn();
  for (const signed of heard) own.hear(signed);
  expect(own.presence).toBe(presence);
});

it.each<[string, number, number | null | undefined, boolean, Presence]>([
  ['a moment later does not ask', longAway - 1, null, false, 'here'],
  ['long after asks, and is still who it was', longAway, owner, true, 'here'],
  ['long after asks, and nobody is signed in', longAway, null, true, 'gone'],
  ['long after asks, and somebody else is', longAway, 4, true, 'another'],
  ['long after asks a server that cannot be reached', longAway, undefined, true, 'here'],
])('a page that is looked at again %s', async (_, after, answer, asks, presence) => {
  const { own, looked } = signedIn(() => Promise.resolve(answer));
  await own.seen(false, 1000);
  await own.seen(true, 1000 + after);
  expect(looked).toHaveBeenCalledTimes(asks ? 1 : 0);
  expect(own.presence).toBe(presence);
});

it('a page that was covered asks as soon as it is looked at', async () => {
  const { own } = signedIn();
  own.hear(null);
  await own.seen(false, 0);
  await own.seen(true, 1);
  expect(own.presence).toBe('here');
});

import { afterEach, expect, it, vi } from 'vitest';
import { habits, keptAnswers, storageIn } from './browser-storage.ts';

afterEach(() => vi.unstubAllGlobals());

const denied = {
  get: () => {
    throw new DOMException('Access is denied for this document.', 'SecurityError');
  },
  configurable: true,
};
const full = {
  getItem: () => null,
  setItem: () => {
    throw new DOMException('It is full.', 'QuotaExceededError');
  },
};

it.each<[string, PropertyDescriptor]>([
  ['that nobody may look at', denied],
  ['that is off', { value: null, configurable: true }],
  ['that there is not', { value: undefined, configurable: true }],
])('what is put into a storage %s lasts as long as the page', (_, descriptor) => {
  vi.stubGlobal('localStorage', undefined);
  vi.stubGlobal('caches', undefined);
  Object.defineProperty(globalThis, 'localStorage', descriptor);
  Object.defineProperty(globalThis, 'caches', descriptor);
  const kept = storageIn('localStorage');
  kept.setItem('a', '1');
  habits.set('b', '2');
  expect([kept.getItem('a'), habits.get('b'), kept.getItem('c'), kept.length, kept.key(1), kept.key(2)]).toEqual([
    ...['1', '2', null, 2, 'b', null],
  ]);
  kept.removeItem('a');
  kept.removeItem('b');
  expect(storageIn('localStorage').length).toBe(0);
  expect(keptAnswers()).toBeUndefined();
});

it('a habit that does not fit into what the browser has is not kept, and stops nobody', () => {
  vi.stubGlobal('localStorage', full);
  habits.set('a', '1');
  expect(habits.get('a')).toBeNull();
});

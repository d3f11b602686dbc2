import type { Rulebook } from '@rigid-rule/core/document';
import { draft } from '@rigid-rule/demo';
import { expect, it } from 'vitest';
import { analysisMemory, forgetAnalyses } from './analysis-memory.ts';
import { Analysing } from './analysis.ts';

/** What browsers have, as far as it is used: the oldest answer is the first. */
class Storage {
  readonly caches = new Map<string, Map<string, string>>();
  open(name: string) {
    const kept = this.caches.get(name) ?? new Map<string, string>();
    this.caches.set(name, kept);
    return Promise.resolve({
      match: (key: string) => Promise.resolve(kept.has(key) ? new Response(kept.get(key)) : undefined),
      put: async (key: string, response: Response) => void kept.set(key, await response.text()),
      keys: () => Promise.resolve([...kept.keys()]),
      delete: (key: string) => Promise.resolve(kept.delete(key)),
    });
  }
  delete(name: string) {
    return Promise.resolve(this.caches.delete(name));
  }
}
const asStorage = (s: unknown) => s as CacheStorage;

const named = (name: string): Rulebook => ({ ...draft, rules: draft.rules.with(0, { ...draft.rules[0]!, name }) });

it('an analysis of the demo comes back as it was made, and only for the same rulebook under the same build', async () => {
  const storage = asStorage(new Storage());
  const memory = analysisMemory('build 1', storage);
  const analysis = new Analysing().analyse(draft, {});
  expect(analysis.tests.length).toBeGreaterThan(0);
  expect(await memory.find(draft)).toBeUndefined();
  await memory.keep(draft, analysis);
  // Read from another page: nothing of it is the same object.
  expect(await analysisMemory('build 1', storage).find(structuredClone(draft))).toEqual(analysis);
  expect(await memory.find(named('Another'))).toBeUndefined();
  expect(await analysisMemory('build 2', storage).find(draft)).toBeUndefined();
  await forgetAnalyses(storage);
  expect(await memory.find(draft)).toBeUndefined();
});

it('eight are kept, the oldest makes room', async () => {
  const memory = analysisMemory('build', asStorage(new Storage()));
  const analysis = new Analysing().analyse({ ...draft, rules: [], tests: [] }, {});
  const books = Array.from({ length: 9 }, (_, i) => named(`Rule ${i}`));
  for (const book of books) await memory.keep(book, analysis);
  const known = await Promise.all(books.map(async (book) => (await memory.find(book)) !== undefined));
  expect(known).toEqual(books.map((_, i) => i > 0));
});

const broken = asStorage({
  open: () => Promise.reject(new Error('The disk is full.')),
  delete: () => Promise.reject(new Error('The disk is full.')),
});
it.each([
  ['has no storage', undefined],
  ['fails', broken],
])('a browser that %s keeps nothing, and nothing else happens', async (_, storage) => {
  const memory = analysisMemory('build', storage);
  await memory.keep(draft, new Analysing().analyse({ ...draft, rules: [], tests: [] }, {}));
  expect(await memory.find(draft)).toBeUndefined();
  await expect(forgetAnalyses(storage)).resolves.toBeUndefined();
});

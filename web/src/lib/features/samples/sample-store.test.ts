/** What is at hand of a set of samples, by hand-made servers that answer, tarry and fail. */
import { RecordsSource, type RecordQuery } from '@rigid-rule/core/records';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';

import { runsOf } from '../../../../../core/src/testing/runs.ts';
import type { SampleServer } from './sample-server.ts';
import { pageSize, SampleStore } from './sample-store.ts';

const records = (n: number) =>
  Array.from({ length: n }, (_, i) => ({ id: 3 * i + 1, data: { name: `N${i % 7}`, size: i % 3 } }));

/** A server whose answers come, or fail, in the order that the test says. */
class Server implements SampleServer {
  readonly all;
  readonly source;
  readonly waiting: { readonly done: () => void; readonly fail: () => void; readonly what: string }[] = [];
  constructor(n: number) {
    this.all = records(n);
    this.source = new RecordsSource(this.all.map(({ id, data }) => ({ recordType: 'firm', id: String(id), data })));
  }
  private tarry<T>(what: string, value: T): Promise<T> {
    return new Promise((done, fail) =>
      this.waiting.push({ what, done: () => done(value), fail: () => fail(new Error('away')) }),
    );
  }
  page = (type: string, from: number, most: number) =>
    this.tarry(`page ${type} ${from}`, {
      ...(from === 0 ? { total: this.all.length } : {}),
      samples: this.all.slice(from, from + most),
    });
  answers = (asks: readonly RecordQuery[]) =>
    this.tarry(
      `answers ${asks.length}`,
      asks.map((a) => this.source.answer(a)),
    );
  values = (type: string, fields: readonly string[]) =>
    this.tarry(`values ${type} ${fields.join()}`, [{ held: [1], count: this.all.length }]);
  find = () => Promise.resolve([]);
}

const settled = () => new Promise<void>((done) => setImmediate(done));
function storeOn(server: SampleServer) {
  const later: (() => void)[] = [];
  let told = 0;
  const store = new SampleStore(
    server,
    () => told++,
    (work) => later.push(work),
  );
  return { store, later, told: () => told };
}
const byName = (value: string): RecordQuery => ({
  kind: 'match',
  recordType: 'firm',
  field: 'name',
  mode: 'exact',
  value,
});

describe('samples at hand', () => {
  it('come page by page, with the pages before and after, around the end of the set', async () => {
    const server = new Server(5 * pageSize - 1);
    const { store } = storeOn(server);
    expect(store.at('firm', 2 * pageSize)).toBeUndefined();
    for (let n = 0; n < 3; n++) {
      for (const w of server.waiting.splice(0)) w.done();
      await settled();
      store.at('firm', 2 * pageSize);
    }
    expect(store.at('firm', 2 * pageSize)?.id).toBe(server.all[2 * pageSize]!.id);
    expect(store.at('firm', pageSize)?.id).toBe(server.all[pageSize]!.id);
    expect(server.waiting).toEqual([]);
    store.at('firm', 0);
    expect(server.waiting.map((w) => w.what)).toEqual([`page firm ${4 * pageSize}`]);
  });

  it('what one settling asks goes together, once, and a record that came is not asked for', async () => {
    const server = new Server(10);
    const { store } = storeOn(server);
    store.first('firm');
    server.waiting.pop()!.done();
    await settled();
    for (let n = 0; n < 2; n++) for (const name of ['N1', 'N2', 'nobody']) store.source.answer(byName(name));
    expect(store.source.answer({ kind: 'record', recordType: 'firm', id: '1' })).toHaveLength(1);
    await settled();
    expect(server.waiting.map((w) => w.what)).toEqual(['answers 3']);
    server.waiting.pop()!.done();
    await settled();
    expect(store.source.answer(byName('N1'))?.map((r) => r.id)).toEqual(['4', '25']);
    expect(store.source.answer(byName('nobody'))).toEqual([]);
    expect(server.waiting).toEqual([]);
  });

  it('what failed is said, left alone for a while, and asked for again then', async () => {
    const server = new Server(10);
    const { store, later } = storeOn(server);
    store.total('firm');
    server.waiting.pop()!.fail();
    await settled();
    expect(store.problem).toBe('The sample records could not be loaded.');
    store.total('firm');
    expect(server.waiting).toEqual([]);
    later.pop()!();
    store.total('firm');
    server.waiting.pop()!.done();
    await settled();
    expect([store.total('firm'), store.problem]).toEqual([10, undefined]);
  });

  it('however answers come or fail, what is given is true, nothing is asked twice at once, and who waits is told', async () => {
    const acts = fc.array(
      fc.oneof(
        fc.record({ act: fc.constant('at' as const), n: fc.nat(160) }),
        fc.record({ act: fc.constant('ask' as const), n: fc.nat(9) }),
        fc.record({ act: fc.constant('values' as const), n: fc.nat(1) }),
        fc.record({ act: fc.constantFrom('answer' as const, 'fail' as const), n: fc.nat(5) }),
        fc.record({ act: fc.constant('later' as const), n: fc.constant(0) }),
      ),
      { maxLength: 40 },
    );
    await fc.assert(
      fc.asyncProperty(fc.nat(150), acts, async (size, list) => {
        const server = new Server(size);
        const { store, later, told } = storeOn(server);
        for (const { act, n } of list) {
          const before = told();
          if (act === 'at') {
            const found = store.at('firm', n);
            if (found) expect(found).toEqual(server.all[n]);
          } else if (act === 'ask') {
            const found = store.source.answer(byName(`N${n}`));
            if (found) expect(found).toEqual(server.source.answer(byName(`N${n}`)));
          } else if (act === 'values') {
            const found = store.values('firm', [`f${n}`]);
            if (found) expect(found).toEqual([{ held: [1], count: size }]);
          } else if (act === 'later') for (const work of later.splice(0)) work();
          else {
            const [one] = server.waiting.splice(n % Math.max(1, server.waiting.length), 1);
            if (!one) continue;
            one[act === 'fail' ? 'fail' : 'done']();
            await settled();
            expect(told()).toBeGreaterThan(before);
          }
          await settled();
          const whats = server.waiting.map((w) => w.what).filter((w) => !w.startsWith('answers'));
          expect(new Set(whats).size).toBe(whats.length);
        }
      }),
      { numRuns: runsOf(200) },
    );
  });
});

/** Long tables are kept in pieces: nobody notices but by the time it takes. */
import { canonicalJson, creating, editPartBody, removing, type Operation } from '@rigid-rule/core/document';
import fc from 'fast-check';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { SentEdit } from '../draft-protocol.ts';
import { draftPartProblem } from '../draft-part.ts';
import { draftStamp, editParts, findPart, insertParts, toldOf } from './db/draft.ts';
import { loadDraft, type DraftState } from './db/draft-state.ts';
import { migrate } from './db/migrate.ts';
import { closePool, db } from './db/pool.ts';
import { beginWithFirms } from './testing/firms-and-deals.ts';

interface Table {
  readonly rows: readonly Readonly<Record<string, unknown>>[];
}
const row = (n: number) => ({ code: `C${n}`, area: `Area ${n % 9}` });
const tableOf = (count: number) => ({
  key: 'areas',
  name: 'Areas',
  purpose: '',
  hitPolicy: 'unique',
  keys: [{ key: 'code', name: 'Code' }],
  outputs: [{ key: 'area', name: 'Area' }],
  rows: Array.from({ length: count }, (_, i) => row(i)),
});
const ref = { kind: 'table', key: 'areas' } as const;

let userId: number;
beforeAll(migrate);
afterAll(closePool);
beforeEach(async () => {
  userId = await beginWithFirms();
  await db().query('delete from draft_parts');
});

const begin = (count: number) => insertParts([{ ...ref, position: 3, body: tableOf(count) }], db());
const send = (edit: Partial<SentEdit> & Pick<SentEdit, 'version' | 'operations'>) =>
  editParts([{ ...ref, ...edit }], {
    user: { id: userId, name: 'Ada' },
    page: 'one',
    check: (part, body) => {
      const problem = draftPartProblem(part, body);
      if (problem) throw new Error(problem);
    },
  });
const there = async () => (await loadDraft()).parts.find((p) => p.key === 'areas');
const pieces = async () =>
  (await db().query<{ count: number }>('select count from draft_rows order by n')).rows.map((r) => r.count);

/** Operations that fit a table of so many rows, one after the other. */
const operationsFor = (count: number): fc.Arbitrary<readonly Operation[]> =>
  fc
    .array(fc.record({ what: fc.nat(4), at: fc.double({ min: 0, max: 1, noNaN: true }), value: fc.nat(5000) }), {
      minLength: 1,
      maxLength: 12,
    })
    .map((acts) => {
      let length = count;
      return acts.map(({ what, at, value }): Operation => {
        const i = Math.floor(at * (length - 1));
        length += [1, 1, -1][what] ?? 0;
        if (what === 0) return { op: 'add', path: `/rows/${i + 1}`, value: row(value) };
        if (what === 1) return { op: 'add', path: '/rows/-', value: row(value) };
        if (what === 2) return { op: 'remove', path: `/rows/${i}` };
        if (what === 3) return { op: 'replace', path: `/rows/${i}`, value: row(value) };
        return { op: 'replace', path: `/rows/${i}/area`, value: `Area ${value}` };
      });
    });

describe('a table of many rows', () => {
  it('is what it would be in one piece, whatever is done to its rows, and goes back the same way', async () => {
    await begin(2300);
    expect(await pieces()).toEqual([460, 460, 460, 460, 460]);
    let body: object = tableOf(2300);
    let version = 1;
    let known: DraftState = await loadDraft();
    await fc.assert(
      fc.asyncProperty(operationsFor(2200), async (operations) => {
        const wanted = editPartBody(body, operations);
        expect(await send({ version, operations })).toMatchObject({
          outcome: 'saved',
          versions: [{ ...ref, version: version + 1 }],
        });
        const before = (known.parts[0]!.body as Table).rows;
        known = await loadDraft(db(), known);
        const now = known.parts[0]!.body as Table;
        expect(canonicalJson(now)).toBe(canonicalJson(wanted.body));
        // Rows of pieces that nothing was done to are the same objects: what was worked out for them stays.
        expect(now.rows.filter((r) => before.includes(r)).length).toBeGreaterThan(0);
        const { rows } = await db().query<{ inverse: readonly Operation[] }>(
          'select inverse from draft_edits order by id desc limit 1',
        );
        expect(canonicalJson(editPartBody(now, rows[0]!.inverse).body)).toBe(canonicalJson(body));
        [body, version] = [wanted.body!, version + 1];
      }),
      { numRuns: 25 },
    );
    expect(canonicalJson((await findPart(ref))!.body)).toBe(canonicalJson(body));
  });

  it.each<[string, readonly Operation[], RegExp]>([
    ['a row that is not there', [{ op: 'remove', path: '/rows/9999' }], /^\/rows\/9999 leads nowhere/],
    [
      'a row that is another by now, after one that fitted',
      [
        { op: 'remove', path: '/rows/0' },
        { op: 'test', path: '/rows/1500/code', value: 'other' },
      ],
      /^\/rows\/1500\/code holds something else/,
    ],
    ['a row that is no row', [{ op: 'replace', path: '/rows/1700', value: 'text' }], /row/],
  ])('refuses %s, and nothing is done', async (_, operations, says) => {
    await begin(2000);
    const stamp = await draftStamp();
    await expect(send({ version: 1, operations })).rejects.toThrow(says);
    expect([await draftStamp(), canonicalJson((await there())!.body)]).toEqual([stamp, canonicalJson(tableOf(2000))]);
  });

  it('is cut where it grows, becomes short, is replaced and taken away', async () => {
    await begin(1200);
    const many = Array.from({ length: 1500 }, (_, i): Operation => ({ op: 'add', path: '/rows/700', value: row(i) }));
    await send({ version: 1, operations: many });
    expect((await pieces()).every((count) => count <= 1000)).toBe(true);
    expect(((await there())!.body as Table).rows.slice(699, 702)).toEqual([row(699), row(1499), row(1498)]);
    const all = Array.from({ length: 2700 }, (): Operation => ({ op: 'remove', path: '/rows/0' }));
    await send({ version: 2, operations: all });
    expect([await pieces(), ((await there())!.body as Table).rows]).toEqual([[], []]);
    await send({ version: 3, operations: [{ op: 'replace', path: '/rows', value: tableOf(1100).rows }] });
    await send({ version: 4, operations: [{ op: 'replace', path: '/name', value: 'Places' }] });
    expect(await there()).toMatchObject({ version: 5, position: 3, body: { ...tableOf(1100), name: 'Places' } });
    await send({ version: 5, operations: [removing] });
    expect([await there(), await pieces()]).toEqual([undefined, []]);
    await send({ version: 0, operations: [creating(tableOf(1001))] });
    // Its versions go on, so that no page takes it for the one that it knew.
    expect(await there()).toMatchObject({ version: 7, body: tableOf(1001) });
  });

  it('clashes as a whole, and tells what was done to its rows rather than all of them', async () => {
    await begin(1500);
    const operations: readonly Operation[] = [{ op: 'replace', path: '/rows/3/area', value: 'Elsewhere' }];
    await send({ version: 1, operations });
    const clash = await send({ version: 1, operations });
    expect(clash).toMatchObject({ outcome: 'clash', clashes: [{ part: { version: 2 } }] });
    expect(clash.outcome === 'clash' && (clash.clashes[0]!.part!.body as Table).rows.length).toBe(1500);
    const told = async () => {
      const { rows } = await db().query<{ edit: number }>('select max(id) as edit from draft_edits');
      return toldOf({ ...ref, edit: rows[0]!.edit, by: 'Ada', page: 'one' });
    };
    expect(await told()).toEqual({ change: { version: 2, operations } });
    await send({ version: 2, operations: [{ op: 'replace', path: '/name', value: 'Places' }] });
    expect((await told()).part).toMatchObject({
      version: 3,
      body: { name: 'Places', rows: tableOf(1500).rows.map((r, i) => (i === 3 ? { ...r, area: 'Elsewhere' } : r)) },
    });
  });
});

/**
 * The form's own state against a real PostgreSQL, fewer sequences than in memory: what was seen is what is stored, on the
 * record and on those that its rules reach; history leads there; what was told of other records comes true.
 */
import { formKey } from '@rigid-rule/core/compile';
import type { RecordData, Rule, Rulebook } from '@rigid-rule/core/document';
import { sameStored } from '@rigid-rule/core/language';
import fc from 'fast-check';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { migrate } from '../../server/db/migrate.ts';
import { closePool, db } from '../../server/db/pool.ts';
import { insertRecordsAsTheyAre } from '../../server/db/load-records.ts';
import { findRecord, findWriteTrace, listHistory } from '../../server/db/records.ts';
import { insertActivation, insertRelease } from '../../server/db/releases.ts';
import { serializable } from '../../server/db/transaction.ts';
import { workOffQueue } from '../../server/jobs/queue.ts';
import { previewWrite, writeRecord } from '../../server/entry-points/write.ts';
import { DatabaseSource } from '../../server/related.ts';
import { releaseOf } from '../../server/snapshot.ts';
import type { RecordForm } from './form.svelte.ts';
import { formInMemory } from './memory-server.ts';
import type { RecordServer, SaveContent, SaveRequest } from './record-server.ts';
import { aToken } from '../../server/testing/a-token.ts';
import { anAuthor } from '../../server/testing/an-author.ts';
import { emptyInstallation, emptyTables } from '../../server/testing/empty-tables.ts';

const runs = Number(process.env['PARITY_DB_RUNS'] ?? 60);
const forms = [{ key: 'full', name: 'full form' }];
const recordTypes: Rulebook['recordTypes'] = [
  {
    key: 'firm',
    name: 'Firm',
    plural: 'Firms',
    title: ['name'],
    forms,
    fields: [
      { key: 'name', name: 'Name', type: 'text' },
      { key: 'total', name: 'Total', type: 'number', max: 500 },
      { key: 'mood', name: 'Mood', type: 'text' },
      { key: 'note', name: 'Note', type: 'text' },
    ],
  },
  {
    key: 'deal',
    name: 'Deal',
    plural: 'Deals',
    title: ['title'],
    forms,
    fields: [
      { key: 'title', name: 'Title', type: 'text' },
      { key: 'firm', name: 'Firm', type: 'lookup', recordType: 'firm' },
      { key: 'amount', name: 'Amount', type: 'number' },
      { key: 'share', name: 'Share', type: 'number', scale: 2 },
      { key: 'size', name: 'Size', type: 'text' },
    ],
  },
];
const rule = (key: string, recordType: string, kind: string, outcome: unknown, more: Partial<Rule> = {}): Rule => ({
  key,
  recordType,
  name: key,
  purpose: '',
  kind,
  on: true,
  position: 0,
  moments: ['editing', 'creating', 'updating'],
  entryPoints: ['form:full', 'api', 'rule'],
  repeat: 'wakes',
  winner: 'rule',
  outcome,
  ...more,
});
const set = (target: string, formula: string) => ({ steps: [{ target, scratch: '', formula, blank: 'clear' }] });
const leave = { do: 'leave' };
const onto = (lookup: string, target: string, value: string) => ({
  source: { by: 'match', recordType: 'firm', ways: [{ field: 'name', formula: `${lookup}.Name`, mode: 'exact' }] },
  onto: lookup,
  outputs: [{ value, target, way: 'replace' }],
  blank: leave,
  none: leave,
  several: leave,
});
/** Each may be there or not, with any winner. */
const pool: readonly Rule[] = [
  rule('title', 'deal', 'derive', set('title', '"For " + Firm.Name')),
  rule('share', 'deal', 'derive', set('share', 'if Firm.Total > 0 then Amount / Firm.Total else null')),
  rule('total', 'firm', 'derive', set('total', 'sum(Deals.Amount)')),
  rule('mood', 'firm', 'derive', set('mood', 'if Total > 100 then "glad" else "calm"')),
  rule('size', 'deal', 'derive', set('size', 'if Amount >= 50 then "big" else "small"')),
  rule('starts', 'deal', 'default', { target: 'amount', value: '7' }, { moments: ['creating'] }),
  rule('later', 'deal', 'derive', set('size', '"late " + string(Amount)'), { moments: ['updating'], winner: 'later' }),
  rule('noted', 'deal', 'map', onto('Firm', 'note', 'Size')),
];

let userId: number;
let tokenId: number;
beforeAll(async () => {
  await migrate();
  await emptyInstallation();
  userId = await anAuthor();
  tokenId = await aToken(userId);
});
afterAll(closePool);

const requestOf = (type: string, { form, version, key: _, ...request }: SaveContent & Partial<SaveRequest>) => ({
  ...request,
  ...(version === undefined ? {} : { versions: [version] }),
  type,
  entryPoint: formKey(form),
  by: { userId },
});
const server: RecordServer = {
  rules: () => Promise.reject(new Error('The rules are at hand here.')),
  related: async (asks) => new DatabaseSource(db()).read(asks),
  rows: () => Promise.reject(new Error('All rows are at hand here.')),
  preview: (type, request) => previewWrite(requestOf(type, request)),
  trace: async (type, id, write) => (await findWriteTrace(type, id, write))!,
  save: (type, request) => writeRecord(requestOf(type, request)),
};

async function release(rulebook: Rulebook): Promise<number> {
  await workOffQueue(); // what the sequence before left in the background is over
  const number = await serializable(async (client) => {
    const n = await insertRelease(await releaseOf(rulebook, 'parity', userId), client);
    await insertActivation(n, 'parity', userId, client);
    return n;
  });
  await emptyTables('records', 'record_ids', 'record_writes', 'match_keys', 'match_indexes', 'outbox', 'follow_ups');
  const firms = [1, 2].map((id) => ({ id, data: { name: ['Alder', 'Fen'][id - 1]! } }));
  await serializable((client) => insertRecordsAsTheyAre('firm', firms, client));
  return number;
}

type Act =
  | { readonly do: 'type'; readonly key: string; readonly value: unknown }
  | { readonly do: 'other'; readonly sent: RecordData }
  | { readonly do: 'save' };
const act = fc.oneof(
  {
    weight: 5,
    arbitrary: fc.constantFrom<Act>(
      ...[5, '60', 90, null, 700].map((value): Act => ({ do: 'type', key: 'amount', value })),
      ...['1', '2', '9', null].map((value): Act => ({ do: 'type', key: 'firm', value })),
      { do: 'type', key: 'size', value: 'odd' },
      { do: 'type', key: 'title', value: 'Mine' },
    ),
  },
  {
    weight: 1,
    arbitrary: fc.constantFrom<Act>({ do: 'other', sent: { amount: 33 } }, { do: 'other', sent: { size: 'x' } }),
  },
  { weight: 3, arbitrary: fc.constant<Act>({ do: 'save' }) },
);

async function settleForm(form: RecordForm): Promise<void> {
  for (let n = 0; n < 12 && form.waits; n++) await form.answerAsks();
  await form.lookElsewhere();
}

async function save(form: RecordForm): Promise<void> {
  await settleForm(form);
  if (!form.dirty) return;
  const told = form.elsewhere?.effects;
  const [before, saving] = [form.stored, form.saving];
  let seen = { settlement: saving, effects: told ?? [] };
  let answer = await form.save();
  if (answer.outcome === 'differs') {
    expect((await findRecord('deal', before?.id ?? 0))?.version).toBe(before?.version);
    if (answer.settlement.verdict !== 'saved') return;
    seen = answer;
    answer = await form.save(answer);
  }
  if (answer.outcome === 'changed meanwhile') return form.goOnFrom(answer.record);
  if (answer.outcome !== 'saved') return;
  const stored = (await findRecord('deal', answer.id))!;
  for (const { key } of form.recordType.fields)
    expect(sameStored(stored.data[key], seen.settlement.data[key] ?? null), `${key} as it was seen`).toBe(true);
  // What was told of other records in the same transaction is so.
  for (const { recordType, id, changes, later } of told ? seen.effects : []) {
    if (later) continue;
    const other = (await findRecord(recordType, Number(id)))!;
    for (const c of changes) expect(sameStored(other.data[c.field], c.to), `${recordType} ${c.field}`).toBe(true);
  }
  const [last] = await listHistory('deal', answer.id);
  for (const c of last!.changes) expect(sameStored(stored.data[c.field], c.to), `history of ${c.field}`).toBe(true);
  await workOffQueue();
  const now = (await findRecord('deal', answer.id))!;
  if (now.version !== stored.version) form.goOnFrom(now);
}

it('what a form shows, and tells of other records, is what the database holds', async () => {
  const winners = fc.constantFrom<Rule['winner']>('rule', 'person', 'later', 'locked');
  const book = fc.array(fc.tuple(fc.boolean(), winners), { minLength: pool.length, maxLength: pool.length });
  await fc.assert(
    fc.asyncProperty(book, fc.array(act, { minLength: 2, maxLength: 8 }), async (chosen, acts) => {
      const rules = pool.flatMap((r, i) => (chosen[i]![0] ? [{ ...r, winner: chosen[i]![1] }] : []));
      const rulebook: Rulebook = { format: 'rigid-rule/1', name: '', zone: 'UTC', currency: 'EUR', recordTypes, rules };
      const identity = { recordType: 'deal', form: 'full' };
      const form = formInMemory(rulebook, identity, await release(rulebook), server, ['amount', 'firm']);
      for (const a of acts) {
        if (a.do === 'type') form.commit(a.key, a.value);
        else if (a.do === 'save') await save(form);
        else if (form.stored)
          await writeRecord({
            type: 'deal',
            id: form.stored.id,
            sent: a.sent,
            typed: [],
            entryPoint: 'api',
            by: { tokenId },
          });
        await settleForm(form);
      }
    }),
    { seed: 22, numRuns: runs },
  );
}, 300_000);

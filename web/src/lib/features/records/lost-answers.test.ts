/** Whatever the network does with a save, it is done once, nothing that was typed is lost, and nobody meets themselves. */
import fc from 'fast-check';
import { runsOf } from '../../../../../core/src/testing/runs.ts';
import { describe, expect, it, vi } from 'vitest';
import { rulebookOf, sizeClass } from '../../../../../core/src/testing/customers.ts';
import type { RecordForm } from './form.svelte.ts';
import { formInMemory, MemoryServer } from './memory-server.ts';
import { NotTakenError, type RecordServer } from './record-server.ts';

type Network = 'here' | 'away' | 'answer lost' | 'signed out';

function open(): {
  readonly form: RecordForm;
  readonly server: MemoryServer;
  turn(network: Network): void;
  hold(): () => void;
} {
  const rulebook = rulebookOf(sizeClass);
  const server = new MemoryServer(rulebook, 'customer');
  let network: Network = 'here';
  let answering: Promise<void> = Promise.resolve();
  const save: RecordServer['save'] = async (type, request) => {
    if (network === 'away') throw new TypeError('Failed to fetch');
    if (network === 'signed out') throw new NotTakenError('Sign in first.', false);
    const answer = await server.save(type, request);
    await answering;
    if (network === 'answer lost') throw new TypeError('Failed to fetch');
    return answer;
  };
  const { related, rows, rules, trace, preview } = server;
  const parts = { related, rows, rules, trace, preview, save };
  const form = formInMemory(rulebook, { recordType: 'customer', form: 'full' }, 1, parts);
  /** Answers are on their way until what is returned is called. */
  const hold = (): (() => void) => {
    let end = (): void => undefined;
    answering = new Promise((done) => (end = done));
    return end;
  };
  return { form, server, turn: (to) => (network = to), hold };
}

const saved = (form: RecordForm) => form.save().catch((e: unknown) => (e as Error).message);

describe('a new record whose save got no answer', () => {
  it.each<[string, (form: RecordForm) => void, object, number]>([
    ['is there once when it is saved again', () => undefined, { name: 'Alder', count: 5 }, 1],
    ['takes what was typed since', (form) => form.commit('count', '60'), { name: 'Alder', count: 60 }, 2],
    ['takes what was cleared since', (form) => form.commit('count', ''), { name: 'Alder' }, 2],
  ])('%s', async (_, since, data, version) => {
    const { form, server, turn } = open();
    form.commit('name', 'Alder');
    form.commit('count', '5');
    turn('answer lost');
    expect(await saved(form)).toBe('Failed to fetch');
    since(form);
    turn('here');
    expect(await saved(form)).toMatchObject({ outcome: 'saved', id: 1 });
    expect([...server.records.values()]).toEqual([{ ...form.stored, id: 1, version, data: expect.anything() }]);
    const { class: _class, ...own } = server.records.get(1)!.data;
    expect(own).toEqual(data);
    expect([form.dirty, form.stored?.version]).toEqual([false, version]);
  });
});

it.each<Network>(['here', 'answer lost'])('what is typed while it is being saved is not lost (%s)', async (network) => {
  const { form, server, turn, hold } = open();
  form.commit('name', 'Alder');
  form.commit('count', '5');
  turn(network);
  const answer = hold();
  const saving = saved(form);
  await vi.waitFor(() => expect(server.records.size).toBe(1));
  form.commit('count', '60');
  answer();
  await saving;
  expect([form.value('count'), form.dirty]).toEqual([60, true]);
  turn('here');
  expect(await saved(form)).toMatchObject({ outcome: 'saved' });
  expect([...server.records.values()]).toMatchObject([{ version: 2, data: { name: 'Alder', count: 60 } }]);
});

it('is saved as it stands, once, in whatever order the network goes and comes', async () => {
  const act = fc.oneof(
    fc.record({ field: fc.constantFrom('name', 'count'), value: fc.constantFrom('7', '60', 'Fen', '') }),
    fc.constantFrom<Network>('here', 'away', 'answer lost', 'signed out'),
    fc.constant('save' as const),
  );
  await fc.assert(
    fc.asyncProperty(fc.array(act, { maxLength: 20 }), async (acts) => {
      const { form, server, turn } = open();
      for (const a of acts) {
        if (a === 'save') expect(await saved(form)).not.toMatchObject({ outcome: 'changed meanwhile' });
        else if (typeof a === 'string') turn(a);
        else form.commit(a.field, a.value);
      }
      turn('here');
      form.commit('name', 'Alder');
      form.commit('count', '8');
      const shown = form.settlement.data;
      if (form.dirty) expect(await saved(form)).toMatchObject({ outcome: 'saved' });
      expect([...server.records.values()].map((r) => r.data)).toEqual([shown]);
    }),
    { numRuns: runsOf(200) },
  );
});

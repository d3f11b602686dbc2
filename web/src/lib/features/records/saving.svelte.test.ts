/** What a form tells of a save: before it is tried, while it cannot be, and of what came of it. */
import { compileProgram } from '@rigid-rule/core/compile';
import { emptySource } from '@rigid-rule/core/records';
import { describe, expect, it } from 'vitest';
import { dealBook, ruleOf } from '../../../../../core/src/testing/deals.ts';
import { FormEngine } from './form-engine.ts';
import { layoutForm } from './form-layout.ts';
import { RecordForm } from './form.svelte.ts';
import type { RecordServer, SaveAnswer } from './record-server.ts';
import { Saving } from './saving.svelte.ts';

const identity = { recordType: 'deal', form: 'full' };
const needsTitle = ruleOf('deal', 'validate', {
  checks: [{ hold: 'must', formula: 'Title != null', message: 'A title is needed.', field: 'title' }],
});

/** A form on a stored deal, and a server that answers every save with `answer`. */
function open(answer: () => Promise<SaveAnswer>) {
  const book = dealBook([needsTitle]);
  const engine = new FormEngine(compileProgram(book), identity);
  const stored = { id: 1, version: 3, held: [], data: { amount: 10, title: 'Weir' } };
  const input = { stored, typed: [], woken: [], handedBack: [], now: '2026-05-03T09:00:00+01:00' };
  const settled = engine.settle(input, emptySource);
  const away = () => Promise.reject(new Error('not asked here'));
  const server: RecordServer = {
    rules: away,
    preview: () => Promise.resolve({ effects: [], dependants: [], titles: {} }),
    trace: away,
    related: away,
    rows: away,
    save: answer,
  };
  const form = new RecordForm({
    recordTypes: book.recordTypes,
    zone: book.zone,
    rulesAddress: '',
    identity,
    release: 1,
    stored,
    start: { ...settled, explained: engine.explain(input, settled, emptySource), rules: engine.rules },
    server,
    engine,
    afterQuiet: (work) => work(),
  });
  const went: string[] = [];
  const saving = new Saving({
    form,
    fields: form.recordType.fields.filter((f) => f.key !== 'title'),
    toTrouble: () => went.push('to trouble'),
    toSaved: ({ id }) => Promise.resolve(void went.push(`to ${id}`)),
  });
  return { form, saving, went };
}

const settlement = (form: RecordForm, ...texts: string[]) => ({
  ...form.settlement,
  messages: texts.map((text) => ({ severity: 'stop' as const, text })),
});

describe('a save', () => {
  it('of nothing is none', async () => {
    const { saving, went } = open(() => Promise.reject(new Error('nothing was to be sent')));
    await saving.save();
    expect([saving.problem, saving.answer, went]).toEqual([undefined, undefined, []]);
  });

  it('that rules stop is not sent; what is missing is said once it was tried, beside the record where no field shows it', async () => {
    const { form, saving, went } = open(() => Promise.reject(new Error('nothing was to be sent')));
    form.commit('title', '');
    await saving.save();
    expect(went).toEqual(['to trouble']);
    expect(saving.loose.map((m) => m.text)).toEqual(['A title is needed.']);
    saving.discard();
    expect([saving.stops, form.dirty]).toEqual([[], false]);
  });

  it('that the server stops says what it said, and is forgotten when it is discarded', async () => {
    const stopped = {
      outcome: 'stopped',
      settlement: settlement(open(() => Promise.reject(new Error())).form, 'Full.'),
    };
    const { form, saving, went } = open(() => Promise.resolve(stopped as SaveAnswer));
    form.commit('amount', '12');
    await saving.save();
    expect([saving.stops.map((m) => m.text), went]).toEqual([['Full.'], ['to trouble']]);
    saving.discard();
    expect(saving.stops).toEqual([]);
  });

  it.each([
    [new TypeError('Failed to fetch'), 'The network is away. What you typed is still here.'],
    [new Error('Too many at once.'), 'Too many at once.'],
  ])('that does not come through (%s) says so, and can be tried again', async (e, said) => {
    const { form, saving } = open(() => Promise.reject(e));
    form.commit('amount', '12');
    await saving.save();
    expect([saving.problem, saving.busy, form.dirty]).toEqual([said, false, true]);
  });

  it('of a record that is there no more says that nothing was saved', async () => {
    const { form, saving, went } = open(() => Promise.resolve({ outcome: 'no record' }));
    form.commit('amount', '12');
    await saving.save();
    expect([saving.problem, went]).toEqual(['This record is there no more. Nothing was saved.', []]);
  });

  it('that is taken leads to the record as it was saved', async () => {
    const { form, saving, went } = open(() =>
      Promise.resolve({ outcome: 'saved', id: 1, version: 4, settlement: form.settlement }),
    );
    form.commit('amount', '12');
    await saving.save();
    expect([went, saving.busy, saving.problem]).toEqual([['to 1'], false, undefined]);
  });
});

describe('the layout of a form', () => {
  const fields = ['a', 'b', 'c', 'd', 'e'].map((key, i) => ({
    key,
    name: key,
    type: 'text',
    ...(i < 3 ? { group: 'First' } : i < 4 ? { group: 'Second' } : {}),
  }));
  const type = {
    key: 't',
    name: 'T',
    plural: 'Ts',
    title: ['a'],
    fields,
    forms: [
      { key: 'full', name: 'full form' },
      { key: 'short', name: 'short form', fields: ['e', 'a'] },
    ],
  };
  const told = (form: string) =>
    layoutForm(type, form).columns.map((c) => c.map((g) => [g.name, ...g.fields.map((f) => f.key)].join(' ')));

  it('keeps groups whole, in two columns, in the order of the fields', () => {
    expect(told('full')).toEqual([['First a b c'], ['Second d', ' e']]);
    expect(told('short')).toEqual([['First a'], [' e']]);
    expect(() => layoutForm(type, 'none')).toThrow(RangeError);
  });
});

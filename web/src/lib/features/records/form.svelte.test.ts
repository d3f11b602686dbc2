/** A form from its first sight on: opened settled, typed into before the rules are there, and how often it settles. */
import { compileProgram } from '@rigid-rule/core/compile';
import type { RecordData, Rule } from '@rigid-rule/core/document';
import { emptySource, RecordsSource, type RecordSource } from '@rigid-rule/core/records';
import { describe, expect, it, onTestFinished, vi } from 'vitest';
import { dealBook, dealRecords, ruleOf, setTo } from '../../../../../core/src/testing/deals.ts';
import { FormEngine } from './form-engine.ts';
import type { FormInput, FormSettled } from './form-state.ts';
import { RecordForm, type FormParts } from './form.svelte.ts';
import type { RecordServer } from './record-server.ts';

const identity = { recordType: 'deal', form: 'full' };
const now = '2026-05-03T09:00:00+01:00';

class CountingEngine extends FormEngine {
  settled = 0;
  looked = 0;
  override settle(input: FormInput, source: RecordSource): FormSettled {
    this.settled++;
    return super.settle(input, source);
  }
  override outlook(...of: Parameters<FormEngine['outlook']>) {
    this.looked++;
    return super.outlook(...of);
  }
}

/** A form on a stored deal or a blank one, whose rules come once `arrive` is called. */
function open(rules: readonly Rule[], data: RecordData | null, world: RecordSource = emptySource) {
  const book = dealBook(rules);
  const engine = new CountingEngine(compileProgram(book), identity);
  const stored = data && { id: 1, version: 3, held: [], data };
  const input = { stored, typed: [], woken: [], handedBack: [], now };
  const settled = engine.settle(input, world);
  const start = { ...settled, explained: engine.explain(input, settled, world), rules: engine.rules };
  engine.settled = 0;
  const waiting: (() => void)[] = [];
  const saved: unknown[] = [];
  let asked = 0;
  const server: RecordServer = {
    rules: () => Promise.reject(new Error('away')),
    preview: () => Promise.resolve({ effects: [], dependants: [], titles: {} }),
    trace: () => Promise.reject(new Error('none is kept')),
    related: (asks) => {
      asked += asks.length;
      return Promise.resolve(asks.map((ask) => world.answer(ask) ?? []));
    },
    rows: () => Promise.reject(new Error('all are at hand')),
    save: (_, request) => {
      saved.push(request);
      return Promise.resolve({ outcome: 'no record' });
    },
  };
  const parts = {
    recordTypes: book.recordTypes,
    zone: book.zone,
    rulesAddress: '',
    identity,
    release: 1,
    stored,
    start,
  };
  const withEngine = (more: Partial<FormParts>) =>
    new RecordForm({ ...parts, server, afterQuiet: (work) => waiting.push(work), ...more });
  const quiet = () => {
    for (const work of waiting.splice(0)) work();
  };
  return { engine, withEngine, quiet, saved, server, asked: () => asked };
}

/** Whoever follows the form has followed. */
const followed = () => new Promise<void>((done) => setImmediate(done));

const margin = ruleOf('deal', 'derive', setTo('cost', 'Amount / 2'));
const kindly = ruleOf('deal', 'default', { target: 'kind', value: 'plan' });

describe('a form', () => {
  it('shows what the server settled, and a value that is typed before the rules are there', () => {
    const { withEngine } = open([margin], { amount: 10, cost: 5 });
    const form = withEngine({});
    expect([form.value('amount'), form.value('cost'), form.dirty, form.asks]).toEqual([10, 5, false, []]);
    form.commit('amount', '30');
    expect([form.value('amount'), form.value('cost'), form.dirty]).toEqual([30, 5, true]);
    expect(form.rulesAre).toBe('coming');
    form.commit('amount', 'much');
    expect(form.value('amount')).toBe(10);
  });

  it('says what kept the rules away, asks for them again, and saves nothing without them', async () => {
    const { withEngine, saved } = open([margin], { amount: 10, cost: 5 });
    const form = withEngine({});
    form.commit('amount', '30');
    await expect(form.save()).rejects.toThrow('away');
    await expect(form.ready()).rejects.toThrow('away');
    expect([saved, form.typed.length, form.rulesAre]).toEqual([[], 1, 'away']);
  });

  it('settles once for each value that is typed, and looks further once it is quiet', async () => {
    const { engine, withEngine, quiet } = open([margin], { amount: 10, cost: 5 });
    const form = withEngine({ engine });
    // All that rows of a form read, as the page follows it.
    const end = $effect.root(() => {
      $effect(() => {
        for (const key of ['amount', 'cost', 'kind'])
          void [form.value(key), form.written(key), form.standing(key), form.suggestions, form.verdicts(key)];
        void [form.asks, form.reaches, form.dirty, form.saving];
      });
    });
    await followed();
    const [first, before] = [engine.settled, engine.looked];
    for (const [i, amount] of ['1', '12', '124'].entries()) {
      form.commit('amount', amount);
      await followed();
      expect([engine.settled - first, engine.looked - before], amount).toEqual([i + 1, 0]);
    }
    expect(form.value('cost')).toBe(62);
    quiet();
    await followed();
    expect([engine.settled - first, engine.looked - before]).toEqual([3, 1]);
    expect(form.saving.data['cost']).toBe(62);
    end();
  });

  it('a blank form begins with what rules give, and asks for records only what they ask', async () => {
    const follows = ruleOf('deal', 'derive', setTo('title', 'Customer.Name'));
    const customers = new RecordsSource(dealRecords);
    const { engine, withEngine, quiet, asked } = open([kindly, follows], null, customers);
    const form = withEngine({ engine });
    quiet();
    const [customer] = dealRecords.filter((r) => r.recordType === 'customer');
    form.commit('customer', customer!.id);
    quiet();
    expect(form.asks).toEqual([{ kind: 'record', recordType: 'customer', id: customer!.id }]);
    await form.answerAsks();
    expect([form.value('title'), form.asks, asked()]).toEqual([customer!.data['name'], [], 1]);
  });

  it('what is typed while questions are on the way is asked for as well, and so is what answers lead to', async () => {
    const follows = ruleOf('deal', 'derive', setTo('title', 'Customer.Service area.Depot'));
    const coastal = { recordType: 'customer', id: '4', data: { name: 'Tern Holding', area: '31' } };
    const world = new RecordsSource([...dealRecords, coastal]);
    const { engine, withEngine, quiet, server } = open([follows], { amount: 10 }, world);
    let answerFirst: () => void = () => undefined;
    const held = new Promise<void>((done) => (answerFirst = done));
    const slow: RecordServer = {
      ...server,
      related: async (asks, release) => {
        await held;
        return server.related(asks, release);
      },
    };
    const form = withEngine({ engine, server: slow });
    const told: boolean[] = [];
    const end = $effect.root(() => {
      $effect(() => form.followAsks((reached) => told.push(reached)));
    });
    form.commit('customer', '1');
    quiet();
    await followed();
    form.commit('customer', coastal.id);
    quiet();
    await followed();
    expect([form.waits, told]).toEqual([true, []]);
    answerFirst();
    for (let turn = 0; turn < 50 && (form.waits || told.length === 0); turn++) await followed();
    expect([form.waits, form.value('title'), told.every(Boolean)]).toEqual([false, 'Porto', true]);
    end();
  });

  it('is left alone once nobody looks at it, whatever is still on its way', async () => {
    const warned = vi.spyOn(console, 'warn');
    onTestFinished(() => warned.mockRestore());
    const follows = ruleOf('deal', 'derive', setTo('title', 'Customer.Name'));
    const { engine, withEngine, quiet } = open([follows], { amount: 10 }, new RecordsSource(dealRecords));
    let form: RecordForm | undefined;
    // As a page holds it, with what is worked out for it.
    const end = $effect.root(() => {
      form = withEngine({ engine });
      $effect(() => form!.followAsks(() => undefined));
    });
    form!.commit('customer', '1');
    quiet();
    await followed();
    form!.commit('customer', '2');
    const before = engine.settled;
    form!.close();
    end();
    quiet();
    await followed();
    await form!.refresh();
    expect([engine.settled, warned.mock.calls]).toEqual([before, []]);
  });

  it('asks what saving does elsewhere again where something was typed while the answer was on the way', async () => {
    vi.useFakeTimers();
    onTestFinished(() => void vi.useRealTimers());
    const { engine, withEngine, quiet, server } = open([margin], { amount: 10, cost: 5 });
    const asked: unknown[] = [];
    const waiting: (() => void)[] = [];
    const preview: RecordServer['preview'] = async (_, request) => {
      asked.push(request.sent);
      await new Promise<void>((done) => waiting.push(done));
      return { effects: [], dependants: [], titles: {} };
    };
    const form = withEngine({ engine, server: { ...server, preview }, readElsewhere: ['amount'] });
    const end = $effect.root(() => {
      $effect(() => form.followElsewhere());
    });
    const typed = async (amount: string): Promise<void> => {
      form.commit('amount', amount);
      quiet();
      await vi.advanceTimersByTimeAsync(300);
    };
    await typed('20');
    await typed('30');
    expect(asked).toHaveLength(2);
    for (const answer of waiting) answer();
    await vi.advanceTimersByTimeAsync(300);
    expect(form.elsewhere).toBeDefined();
    end();
  });

  it('suggests what the live rules say otherwise, and takes it', () => {
    const { engine, withEngine, quiet } = open([margin], { amount: 10, cost: 4 });
    const form = withEngine({});
    expect(form.suggestions).toEqual([{ field: 'cost', value: 5, rule: margin.key }]);
    const ready = withEngine({ engine });
    quiet();
    ready.rest();
    ready.take(ready.suggestions[0]!);
    quiet();
    expect([ready.value('cost'), ready.suggestions]).toEqual([5, []]);
  });
});

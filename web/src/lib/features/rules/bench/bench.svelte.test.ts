/** The bench on samples that come by and by: what it says meanwhile, where it stands, and what it reads ahead. */
import { compileProgram } from '@rigid-rule/core/compile';
import type { Rule } from '@rigid-rule/core/document';
import { RecordsSource, queryKey, type RecordQuery } from '@rigid-rule/core/records';
import { describe, expect, it } from 'vitest';
import { dealBook, mapOf, outputOf, pairsOf, ruleOf, setTo } from '../../../../../../core/src/testing/deals.ts';
import { runTest } from '@rigid-rule/core/rule-tests';
import { Bench } from './bench.svelte.ts';
import { testOf } from './keep-test.ts';

const customers = [1, 2, 3].map((id) => ({ id, data: { name: `Firm ${id}`, country: 'portugal' } }));
const deals = [11, 12, 13].map((id, i) => ({
  id,
  data: { title: 'Old', customer: String(i + 1), amount: 10 * (i + 1) },
}));

/** Samples of which only those are at hand that were let in; what else was read is noted. */
function samplesBy(letIn: boolean) {
  const all = new RecordsSource(
    [
      ...customers.map((c) => ({ recordType: 'customer', ...c })),
      ...deals.map((d) => ({ recordType: 'deal', ...d })),
    ].map((r) => ({ ...r, id: String(r.id) })),
  );
  const asked = new Map<string, RecordQuery>();
  const state = $state({ here: letIn });
  const listOf = (type: string) => (type === 'deal' ? deals : type === 'customer' ? customers : []);
  return {
    state,
    asked,
    samples: {
      total: (type: string) => (state.here ? listOf(type).length : undefined),
      at: (type: string, i: number) => (state.here ? listOf(type)[i] : undefined),
      first: (type: string) => (state.here ? listOf(type) : []),
      source: {
        answer(ask: RecordQuery) {
          asked.set(queryKey(ask), ask);
          return state.here ? all.answer(ask) : undefined;
        },
      },
    },
  };
}

function benchOn(type: string, rules: readonly Rule[], letIn = true) {
  const program = compileProgram(dealBook(rules));
  const { state, asked, samples } = samplesBy(letIn);
  return { bench: new Bench(type, { program: () => program, samples, users }), state, asked };
}

const users = [
  { name: 'Ada Lund', email: 'ada@firm.example', role: 'author' },
  { name: 'Bo Lund', email: 'bo@firm.example', role: 'record keeper' },
];

const named = ruleOf('deal', 'derive', setTo('title', 'Customer.Name'), { repeat: 'every' });

describe('the bench', () => {
  it('waits for samples without saying that there are none, and stands where it was to stand once they are here', () => {
    const { bench, state } = benchOn('deal', [named], false);
    bench.index = 7;
    expect([bench.total, bench.sample, bench.settlement.verdict]).toEqual([undefined, undefined, 'saved']);
    state.here = true;
    expect([bench.total, bench.index, bench.sample?.id, bench.settled('title')]).toEqual([3, 2, 13, 'Firm 3']);
  });

  it.each(users)('lets $name write as the $role that they are', ({ email, role }) => {
    const { bench } = benchOn('deal', [ruleOf('deal', 'derive', setTo('title', 'user.role'), { repeat: 'every' })]);
    bench.user = email;
    expect(bench.settled('title')).toBe(role);
  });

  it('goes round, each sample settled by what it reads', () => {
    const { bench } = benchOn('deal', [named]);
    const seen = [1, 1, 1, -1].map((by) => {
      bench.step(by as 1 | -1);
      return [bench.index, bench.settled('title')];
    });
    expect(seen).toEqual([
      [1, 'Firm 2'],
      [2, 'Firm 3'],
      [0, 'Firm 1'],
      [2, 'Firm 3'],
    ]);
  });

  it('reads ahead what the next sample reads and shows, and nothing while something is tried', () => {
    const { bench, asked } = benchOn('deal', [named]);
    void bench.settlement;
    asked.clear();
    bench.lookAhead();
    expect([...asked.values()]).toContainEqual({ kind: 'record', recordType: 'customer', id: '2' });
    asked.clear();
    bench.override('amount', 5);
    void bench.settlement;
    asked.clear();
    bench.lookAhead();
    expect([...asked.values()]).toEqual([]);
  });

  it('a record beside it is tried too, and taken back with all else', () => {
    const { bench } = benchOn('deal', [named]);
    bench.overrideRelated('customer', '1', 'name', 'Tried');
    expect([bench.settled('title'), bench.isOverridden('customer', '1'), bench.isTouched]).toEqual([
      'Tried',
      true,
      true,
    ]);
    bench.clear();
    expect([bench.settled('title'), bench.isTouched]).toEqual(['Firm 1', false]);
  });

  it('a conversion starts from the first sample of a type, or one that is chosen, once they are here', () => {
    const from = ruleOf('customer', 'derive', setTo('name', 'origin.Title'), { moments: ['creating'] });
    const { bench, state } = benchOn('customer', [from], false);
    bench.subject = 'blank';
    bench.entryPoint = 'conversion';
    bench.beginFrom({ recordType: 'deal' });
    expect([bench.origin, bench.settled('name')]).toEqual([undefined, null]);
    state.here = true;
    expect([bench.origin?.id, bench.settled('name')]).toEqual(['11', 'Old']);
    bench.beginFrom({ recordType: 'deal', id: '12' });
    expect(bench.origin?.id).toBe('12');
    bench.beginFrom(undefined);
    expect(bench.settled('name')).toBeNull();
  });

  const asks = (outcome: object) => ruleOf('deal', 'validate', outcome, { key: 'kept', repeat: 'every' });
  const offers = (...allowed: readonly string[]) => {
    const grid = [{ value: 'Old', allowed }];
    return asks({ limits: [{ field: 'stage', source: 'Title', grid, otherwise: 'stop', message: '' }] });
  };
  const gives = (region: string) =>
    mapOf(
      'deal',
      pairsOf('Title', ['Old', region]),
      [outputOf('postcode')],
      'customer',
      {},
      { key: 'kept', repeat: 'every' },
    );
  const tells = (to: string) =>
    ruleOf('deal', 'derive', setTo('cost', 'Amount'), {
      key: 'kept',
      repeat: 'every',
      notify: [{ channel: 'email', to: `"${to}@firm.example"`, subject: 'S', body: 'B' }],
    });
  it.each<[string, Rule, Rule]>([
    ['has to be filled in', asks({ required: ['amount'] }), asks({ required: [] })],
    ['is on offer', offers('Won'), offers('Won', 'Enquiry')],
    ['is hidden', asks({ hidden: ['cost'] }), asks({ hidden: [] })],
    ['is written on another record', gives('A'), gives('B')],
    ['is told to somebody', tells('a'), tells('b')],
    [
      'comes out',
      ruleOf('deal', 'derive', setTo('cost', '5'), { key: 'kept', repeat: 'every' }),
      ruleOf('deal', 'derive', setTo('cost', '6'), { key: 'kept', repeat: 'every' }),
    ],
  ])('a try that is kept holds, and no longer where something else %s', (_, rule, changed) => {
    const { bench } = benchOn('deal', [rule]);
    bench.override('amount', 7);
    const test = testOf(bench, rule, 't', {});
    const failures = (r: Rule) => runTest(compileProgram(dealBook([r])), test).failures;
    expect(failures(rule)).toEqual([]);
    expect(failures(changed)).not.toEqual([]);
  });
});

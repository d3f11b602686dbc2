/** One write and what it causes on other records: linked values, totals, waves that come back, dependants. */
import { describe, expect, it } from 'vitest';
import type { RecordType, Rule, Rulebook, Stored } from '../document/document.ts';
import {
  dealBook,
  dealRecords,
  dealTypes,
  recordOf,
  ruleOf,
  setTo,
  writeOf,
  mapOf,
  pairsOf,
  outputOf,
} from '../testing/deals.ts';
import { compileProgram } from '../compile/program.ts';
import type { Write } from '../records/write.ts';
import { findDependants } from './dependants.ts';
import { settleAndPropagate, settleAnswered, type Transaction } from './propagation.ts';
import { AnsweredSource, RecordsSource, type StoredRecordOf, type RecordSource } from '../records/record-source.ts';

describe('waves', () => {
  const total = ruleOf('customer', 'derive', setTo('open', 'sum(Deals[Stage in ("Surveyed", "Proposal")].Amount)'));
  const linked = mapOf('deal', pairsOf('Stage', ['Won', 'large']), [outputOf('size')], 'customer');
  const other: Rule = {
    ...mapOf('deal', pairsOf('Stage', ['Won', 'small']), [outputOf('size')], 'customer'),
    position: 1e9,
    name: 'Other',
  };
  const title = ruleOf('deal', 'derive', setTo('title', 'Customer.Name'));
  const go = (rules: readonly Rule[], write: Write) =>
    settleAndPropagate(compileProgram(dealBook(rules)), write, new RecordsSource(dealRecords));

  it('both parents of a child that moved are totalled anew, with what this write changes', () => {
    const t = go(
      [total],
      writeOf('deal', dealRecords[6]!.data as Record<string, unknown>, { customer: '2', amount: 50 }, { id: '21' }),
    );
    expect(t.followers.map((f) => [f.id, f.settlement.data['open'], f.wave])).toEqual([
      ['1', 0, 1],
      ['2', 50, 1],
    ]);
  });

  it('a value for the linked record is written there; two values for one field stop, naming both rules', () => {
    const write = writeOf('deal', dealRecords[6]!.data as Record<string, unknown>, { stage: 'won' }, { id: '21' });
    expect(go([linked], write).followers.map((f) => f.settlement.data['size'])).toEqual(['large']);
    const both = go([linked, other], write);
    expect(both.settlement.verdict).toBe('stopped');
    expect(both.settlement.messages[0]?.text).toMatch(/Rule \d+ and Other give Size class two values/);
  });

  it('a wave that comes back to the record of the write goes on from what that left', () => {
    const costs = mapOf('customer', pairsOf('string(Open deal value > 100)', ['true', 7]), [outputOf('cost')], 'chief');
    const recordTypes = dealTypes.map((t) =>
      t.key === 'customer'
        ? { ...t, fields: [...t.fields, { key: 'chief', name: 'Chief deal', type: 'lookup', recordType: 'deal' }] }
        : t,
    );
    const records = dealRecords.map((r) => (r.id === '1' ? { ...r, data: { ...r.data, chief: '21' } } : r));
    const t = settleAndPropagate(
      compileProgram(dealBook([total, costs], { recordTypes })),
      writeOf('deal', dealRecords[6]!.data as Record<string, unknown>, { amount: 500 }, { id: '21' }),
      new RecordsSource(records),
    );
    expect(t.settlement).toMatchObject({ verdict: 'saved', data: { amount: 500, cost: 7 } });
    expect(t.settlement.changes.map((c) => [c.field, c.to])).toEqual([
      ['amount', 500],
      ['cost', 7],
    ]);
    expect(t.followers.map((f) => f.id)).toEqual(['1']);
  });

  it('records that read this one through a lookup are left to a job, and found by the way back', () => {
    const t = go(
      [title],
      writeOf('customer', dealRecords[0]!.data as Record<string, unknown>, { name: 'Alder' }, { id: '1' }),
    );
    expect(t.dependants.map((d) => [d.recordType, d.paths])).toEqual([['deal', ['lookup:customer:customer#name']]]);
    expect(findDependants(t.dependants[0]!, t.settlement.data, new RecordsSource(dealRecords))).toEqual({
      ids: ['21', '22', '23'],
    });
  });

  const credit: RecordType = {
    ...dealTypes[0]!,
    fields: [
      ...dealTypes[0]!.fields,
      { key: 'limit', name: 'Credit limit', type: 'money' },
      { key: 'note', name: 'Note', type: 'text' },
    ],
  };
  const withCredit = dealTypes.map((t) => (t.key === 'customer' ? credit : t));
  const customer = (data: StoredRecordOf['data']) =>
    dealRecords.map((r) => (r.id === '1' ? recordOf('customer', '1', { ...r.data, ...data }) : r));
  const goWith = (
    rules: readonly Rule[],
    write: Write,
    records: readonly StoredRecordOf[] = customer({ limit: 1200 }),
    more: Partial<RecordSource> = {},
  ): Transaction => {
    const program = compileProgram(dealBook(rules, { recordTypes: withCredit } as Partial<Rulebook>));
    expect(program.broken.flatMap((r) => r.diagnostics.map((d) => d.message))).toEqual([]);
    return settleAndPropagate(program, write, Object.assign(new RecordsSource(records), more));
  };
  const within = ruleOf('customer', 'validate', {
    checks: [
      { hold: 'must', formula: 'sum(Deals.Amount) <= Credit limit', message: 'Over the credit limit.', field: '' },
    ],
  });
  const deal = (amount: number, id = '24') =>
    writeOf('deal', null, { title: 'D', customer: '1', amount, stage: 'surveyed' }, { id });

  it.each([
    ['breaks it', deal(500), 'stopped'],
    ['stays within it', deal(100), 'saved'],
    [
      'breaks it further, as the deals did before',
      writeOf('deal', { title: 'A', customer: '1', stage: 'proposal', amount: 500 }, { amount: 600 }, { id: '21' }),
      'saved',
    ],
  ] as const)('a check over deals stops the deal that first breaks it: %s', (name, write, verdict) => {
    const records = name.startsWith('breaks it further')
      ? customer({ limit: 1200 }).map((r) => (r.id === '21' ? recordOf('deal', '21', { ...r.data, amount: 500 }) : r))
      : undefined;
    const t = goWith([within], write, records);
    expect(t.settlement.verdict).toBe(verdict);
    expect(t.followers.map((f) => f.id)).toEqual(['1']);
  });

  it('a total that starts to be beyond a bound is told once', () => {
    const note = ruleOf(
      'customer',
      'derive',
      setTo('note', 'string join([if Note = null then "" else Note, "large"], "+")'),
      {
        condition: 'sum(Deals.Amount) > 1200',
        repeat: 'starts',
      },
    );
    const first = goWith([note], deal(500));
    expect(first.followers.map((f) => f.settlement.data['note'])).toEqual(['+large']);
    const records = [...customer({ note: '+large' }), recordOf('deal', '24', { customer: '1', amount: 500 })];
    const again = goWith([note], deal(5, '25'), records);
    expect(again.followers.map((f) => f.settlement.data['note'])).toEqual(['+large']);
  });

  it('a record that is settled twice keeps both settlements, the second from what the first left', () => {
    const chief: RecordType = {
      ...credit,
      fields: [...credit.fields, { key: 'chief', name: 'Chief deal', type: 'lookup', recordType: 'deal' }],
    };
    const recordTypes = dealTypes.map((t) => (t.key === 'customer' ? chief : t));
    const sum = ruleOf('customer', 'derive', setTo('open', 'sum(Deals.Cost)'));
    const costs = mapOf('customer', pairsOf('string(Open deal value > 0)', ['true', 7]), [outputOf('cost')], 'chief');
    const records = dealRecords.map((r) =>
      r.id === '1' ? recordOf('customer', '1', { ...r.data, chief: '22', open: 0 }) : r,
    );
    const program = compileProgram(dealBook([sum, costs], { recordTypes }));
    const before = dealRecords[6]!.data as Record<string, unknown>;
    const t = settleAndPropagate(
      program,
      writeOf('deal', before, { cost: 1 }, { id: '21' }),
      new RecordsSource(records),
    );
    const own = t.followers.filter((f) => f.recordType === 'customer');
    expect(own.map((f) => [f.before['open'], f.settlement.data['open'], f.wave])).toEqual([
      [0, 1, 1],
      [1, 8, 3],
    ]);
  });

  it.each<[string, Rule['winner'], readonly string[], string]>([
    ['a value set by hand stays where the rule lets it', 'person', ['size'], 'micro'],
    ['nothing was set by hand', 'person', [], 'large'],
    ['the rule wins whoever set it', 'rule', ['size'], 'large'],
  ])('on a linked record: %s', (_, winner, held, size) => {
    const write = writeOf('deal', dealRecords[6]!.data as Record<string, unknown>, { stage: 'won' }, { id: '21' });
    const t = goWith([{ ...linked, winner }], write, customer({ size: 'micro' }), {
      held: (_type: string, id: string) => (id === '1' ? held : []),
    });
    const left = t.followers.find((f) => f.id === '1')?.settlement.data['size'] ?? 'micro';
    expect(left).toBe(size);
  });

  describe('between a customer and its chief deal', () => {
    const withChief = dealTypes.map((t) =>
      t.key === 'customer'
        ? { ...t, fields: [...t.fields, { key: 'chief', name: 'Chief deal', type: 'lookup', recordType: 'deal' }] }
        : t,
    );
    const sum = ruleOf('customer', 'derive', setTo('open', 'sum(Deals.Cost)'));
    const given = (recordType: string, onto: string, target: string, formula: string, ...pairs: [string, Stored][]) =>
      mapOf(recordType, pairsOf(formula, ...pairs), [outputOf(target)], onto);
    const records = dealRecords.map((r) =>
      r.id === '1' ? recordOf('customer', '1', { ...r.data, chief: '21', open: 0 }) : r,
    );
    const settled = (
      rules: readonly Rule[],
      sent: Record<string, unknown>,
      world: RecordSource = new RecordsSource(records),
    ) => {
      const program = compileProgram(dealBook(rules, { recordTypes: withChief }));
      expect(program.broken.flatMap((r) => r.diagnostics.map((d) => d.message))).toEqual([]);
      const before = dealRecords[6]!.data as Record<string, unknown>;
      return settleAndPropagate(program, writeOf('deal', before, sent, { id: '21' }), world);
    };

    it('values that chase each other are said not to settle', () => {
      const chase = given('customer', 'chief', 'cost', 'string(modulo(Open deal value, 2))', ['1', 2], ['0', 1]);
      const t = settled([sum, chase], { cost: 1 });
      expect(t.settlement.verdict).toBe('does not settle');
      expect(t.settlement.messages.map((m) => m.text)).toEqual([
        'After 8 waves the records that this one changes still change each other.',
      ]);
    });

    it('what a wave makes wrong on the record of the write is told there, at its field', () => {
      const costs = given('customer', 'chief', 'cost', 'string(Open deal value > 0)', ['true', 7]);
      const bound = ruleOf('deal', 'validate', {
        checks: [{ hold: 'must', formula: 'Cost < 5', message: 'Too dear.', field: 'cost' }],
      });
      const t = settled([sum, costs, bound], { cost: 1 });
      expect([t.settlement.verdict, t.settlement.messages]).toMatchObject([
        'stopped',
        [{ severity: 'stop', text: 'Too dear.', field: 'cost' }],
      ]);
    });

    it('a rule that gives one record two values through two others is named once', () => {
      const depot = given(
        'customer',
        'area',
        'depot',
        'string(Open deal value > 0)',
        ['true', 'Busy'],
        ['false', 'Quiet'],
      );
      const area = new Map([
        ['1', 5],
        ['2', 0],
      ]);
      const inArea = records.map((r) =>
        r.recordType === 'customer'
          ? recordOf('customer', r.id, { ...r.data, area: '31', open: area.get(r.id) ?? null })
          : r,
      );
      const moved = settled([sum, depot], { customer: '2', cost: 3 }, new RecordsSource(inArea));
      expect([moved.settlement.verdict, moved.settlement.messages.map((m) => m.text)]).toEqual([
        'stopped',
        [`${depot.name} gives Depot two values.`],
      ]);
    });

    it('a record that a wave reaches is settled by who writes, from when it was written last', () => {
      const said = ruleOf('customer', 'validate', {
        checks: [
          { hold: 'should', formula: 'user.name != "Ana" or Open deal value = 0', message: 'Ana sells.', field: '' },
        ],
      });
      const user = { id: '7', name: 'Ana', email: 'ana@alder.example', role: 'sales' } as const;
      const program = compileProgram(dealBook([sum, said], { recordTypes: withChief }));
      const write = writeOf('deal', dealRecords[6]!.data as Record<string, unknown>, { cost: 5 }, { id: '21', user });
      const asked: string[] = [];
      const writtenAt = (_: string, id: string) => {
        asked.push(id);
        return '2026-01-01T00:00:00Z';
      };
      const t = settleAndPropagate(program, write, Object.assign(new RecordsSource(records), { writtenAt }));
      expect(t.settlement.messages).toEqual([{ severity: 'warn', text: 'Customer 1: Ana sells.', rule: said.key }]);
      expect(asked).toEqual(['1']);
    });

    it('records that total what others total are found on the way back, once what lies between is known', () => {
      const deep = ruleOf('area', 'derive', setTo('depot', 'string(sum(for c in Customers return sum(c.Deals.Cost)))'));
      const program = compileProgram(dealBook([deep]));
      expect(program.broken).toEqual([]);
      const before = { title: 'A', customer: '1', cost: 1 };
      const t = settleAndPropagate(program, writeOf('deal', before, { customer: '2', cost: 2 }, { id: '21' }));
      const inAreas = dealRecords.map((r) =>
        r.recordType === 'customer' ? recordOf('customer', r.id, { ...r.data, area: r.id === '1' ? '31' : '32' }) : r,
      );
      const [dependants] = t.dependants;
      const found = findDependants(dependants!, t.settlement.data, new RecordsSource(inAreas));
      expect([dependants!.recordType, found]).toEqual(['area', { ids: ['31', '32'] }]);
      const unknown = findDependants(dependants!, t.settlement.data, new AnsweredSource());
      expect('asks' in unknown && unknown.asks).toEqual(
        ['1', '2'].map((id) => ({ kind: 'record', recordType: 'customer', id })),
      );
    });

    it('waits until the records that its waves need are known', async () => {
      const known = new RecordsSource(records);
      const cache = new AnsweredSource();
      let rounds = 0;
      const settling = await settleAnswered(
        () => settled([sum], { cost: 5 }, cache),
        (ask, found) => cache.put(ask, found),
        (asks) => {
          rounds++;
          return Promise.resolve(asks.map((ask) => known.answer(ask)));
        },
      );
      expect(settling?.followers.map((f) => f.settlement.data['open'])).toEqual([5]);
      expect(rounds).toBeGreaterThan(0);
    });
  });

  it('what one rule gives several fields of a child comes as one write', () => {
    const back: RecordType = {
      ...dealTypes[1]!,
      fields: [...dealTypes[1]!.fields, { key: 'note', name: 'Note', type: 'text' }],
    };
    const toContacts = (target: string, value: string) =>
      mapOf('customer', pairsOf('Home country', ['Norway', value]), [outputOf(target)], 'Contacts');
    const recordTypes = dealTypes.map((t) => (t.key === 'contact' ? back : t));
    const rules = [toContacts('note', 'north'), toContacts('firm', 'fjord')];
    const program = compileProgram(dealBook(rules, { recordTypes }));
    expect(program.broken.flatMap((r) => r.diagnostics.map((d) => d.message))).toEqual([]);
    const write = writeOf(
      'customer',
      dealRecords[0]!.data as Record<string, unknown>,
      { country: 'norway' },
      { id: '1' },
    );
    const { childWrites } = settleAndPropagate(program, write, new RecordsSource(dealRecords));
    expect(childWrites.map((c) => [c.id, c.values.map((v) => [v.field, v.value])])).toEqual(
      ['11', '12', '13'].map((id) => [
        id,
        [
          ['note', 'north'],
          ['firm', 'fjord'],
        ],
      ]),
    );
  });
});

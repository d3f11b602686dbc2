/** What a person at a form typed and had in sight, and what differs from it when it is saved. */
import { describe, expect, it } from 'vitest';
import { compileProgram } from '../compile/program.ts';
import type { Field, Rule, Stored } from '../document/document.ts';
import { dealBook, dealTypes, ruleOf, setTo, writeOf } from '../testing/deals.ts';
import { settleAndPropagate } from './propagation.ts';
import {
  differencesBetween,
  judge,
  overruled,
  seenOf,
  storedOf,
  typeInto,
  type Difference,
  type Seen,
} from './sitting.ts';

const deal = dealTypes.find((t) => t.key === 'deal')!;
const field = (key: string): Field => deal.fields.find((f) => f.key === key)!;

describe('what is typed', () => {
  it.each<[string, string, unknown, Stored | undefined]>([
    ['a number with marks of its own', 'amount', '12.5', 12.5],
    ['an option by its name', 'stage', 'Won', 'won'],
    ['what the field cannot hold', 'amount', 'many', undefined],
    ['blank', 'title', '', null],
  ])('is stored as the field has it: %s', (_, key, value, stored) => {
    expect(storedOf(value, field(key))).toEqual(stored);
  });

  it.each<[string, unknown, Stored, readonly string[]]>([
    ['another value counts', '6', 5, ['title', 'amount']],
    ['the value that stood there was typed back', '5.00', 5, ['title']],
    ['what cannot be stored still counts', 'many', 5, ['title', 'amount']],
    ['a blank where there was one was typed back', '', null, ['title']],
  ])('%s', (_, value, starting, keys) => {
    const before = [
      { key: 'amount', value: '7' },
      { key: 'title', value: 'x' },
    ];
    expect(typeInto(before, field('amount'), value, starting).map((t) => t.key)).toEqual(keys);
  });

  it.each<[string, unknown, Stored, Stored | undefined]>([
    ['stands', '5', 5, undefined],
    ['was put aside for another', '5', 9, 5],
    ['is refused, so nothing stands for it', 'many', 9, undefined],
  ])('a value that %s', (_, value, settled, expected) => {
    expect(overruled({ key: 'amount', value }, field('amount'), settled)).toEqual(expected);
    expect(overruled(undefined, field('amount'), settled)).toBeUndefined();
  });
});

const nothing: Seen = { data: {}, states: {}, messages: [], verdict: 'saved' };
const effect = {
  recordType: 'customer',
  id: '1',
  changes: [{ field: 'total', to: 5, rule: 'r' }],
} as unknown as NonNullable<Seen['elsewhere']>[number];

describe('what comes out otherwise than it was seen', () => {
  const fields = ['title', 'stage', 'signed'];
  it.each<[string, Partial<Seen>, Partial<Seen>, Partial<Difference>[]]>([
    ['nothing', {}, {}, []],
    [
      'a value',
      { data: { title: 'a' } },
      { data: { title: 'b' } },
      [{ what: 'value', field: 'title', from: 'a', to: 'b' }],
    ],
    [
      'a value that is now blank',
      { data: { title: 'a' } },
      {},
      [{ what: 'value', field: 'title', from: 'a', to: null }],
    ],
    ['a value that was not in sight', { data: { cost: 1 } }, { data: { cost: 2 } }, []],
    [
      'a lock',
      {},
      { states: { title: { locked: 'r' } } },
      [{ what: 'state', field: 'title', text: 'Title is locked' }],
    ],
    [
      'another rule that locks it: not in sight',
      { states: { title: { locked: 'a' } } },
      { states: { title: { locked: 'b' } } },
      [],
    ],
    [
      'a field that is hidden no longer',
      { states: { title: { hidden: 'r' } } },
      {},
      [{ what: 'state', field: 'title', text: 'Title is no longer hidden' }],
    ],
    [
      'other options',
      { states: { stage: { allowed: ['won'] } } },
      { states: { stage: { allowed: ['won', 'enquiry'] } } },
      [{ what: 'state', field: 'stage', text: 'Stage offers other options' }],
    ],
    [
      'a message that came and one that went',
      { messages: [{ severity: 'warn', text: 'Old.' }] },
      { messages: [{ severity: 'stop', text: 'New.', field: 'title' }] },
      [
        { what: 'message', gone: false, text: 'New.', field: 'title' },
        { what: 'message', gone: true, text: 'Old.' },
      ],
    ],
    ['the verdict', {}, { verdict: 'stopped' }, [{ what: 'verdict', from: 'saved', to: 'stopped' }]],
    ['what others get', { elsewhere: [] }, { elsewhere: [effect] }, [{ what: 'elsewhere', gone: false, effect }]],
    ['what others no longer get', { elsewhere: [effect] }, {}, [{ what: 'elsewhere', gone: true, effect }]],
    ['what others get where that was never told', {}, { elsewhere: [effect] }, []],
  ])('%s', (_, seen, now, expected) => {
    expect(differencesBetween({ ...nothing, ...seen }, { ...nothing, ...now }, deal, fields)).toEqual(expected);
  });

  it('is no instant that reads the same to the minute', () => {
    const contact = dealTypes.find((t) => t.key === 'contact')!;
    const at = (answered: string): Seen => ({ ...nothing, data: { answered } });
    const between = (a: string, b: string): number => differencesBetween(at(a), at(b), contact, ['answered']).length;
    expect(between('2026-05-03T08:00:10Z', '2026-05-03T08:00:59Z')).toBe(0);
    expect(between('2026-05-03T08:00:59Z', '2026-05-03T08:01:00Z')).toBe(1);
  });
});

describe('a save', () => {
  const rule: Rule = ruleOf('deal', 'derive', setTo('cost', 'Amount * 2'));
  const stops: Rule = ruleOf('deal', 'validate', {
    checks: [{ formula: 'Amount < 100', message: 'Too much.', severity: 'stop', field: 'amount' }],
    required: [],
    hidden: [],
    locked: [],
    limits: [],
  });
  const transaction = (rules: readonly Rule[], amount: number) =>
    settleAndPropagate(compileProgram(dealBook(rules)), writeOf('deal', {}, { amount }));
  const fields = ['amount', 'cost'];

  it.each<[string, readonly Rule[], number, Partial<Seen> | undefined, string]>([
    ['by a program, which saw nothing', [rule], 5, undefined, 'passes'],
    ['of just what was seen', [rule], 5, { data: { amount: 5, cost: 10 } }, 'passes'],
    ['of something else', [rule], 5, { data: { amount: 5, cost: 11 } }, 'differs'],
    ['that a rule stops', [stops], 500, undefined, 'stopped'],
    [
      'that a rule stops, as was seen',
      [stops],
      500,
      {
        data: { amount: 500 },
        verdict: 'stopped',
        messages: [{ severity: 'stop', text: 'Too much.', field: 'amount' }],
      },
      'stopped',
    ],
    ['that a rule stops, which was not seen', [stops], 500, { data: { amount: 500 } }, 'differs'],
  ])('%s', (_, rules, amount, seen, outcome) => {
    const judged = judge(transaction(rules, amount), deal, seen && { ...nothing, ...seen, fields });
    expect(judged.outcome).toBe(outcome);
  });

  it('is seen as far as its fields go, messages wherever they belong', () => {
    const { settlement } = transaction([rule, stops], 500);
    const seen = seenOf(settlement, ['cost']);
    expect(seen.data).toEqual({ cost: 1000 });
    expect(seen.messages).toEqual([{ severity: 'stop', text: 'Too much.', field: 'amount' }]);
  });
});

/** What a form is made of: what was done on it, what its rules ask, and what its links are called. */
import type { RecordType } from '@rigid-rule/core/document';
import type { FoundRecord, RecordQuery, RowsQuery } from '@rigid-rule/core/records';
import type { Settlement } from '@rigid-rule/core/settle';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { isTouched, noActs, saveRequestOf, withHandedBack, withValue, withWoken, type Acts } from './acts.ts';
import type { Titles } from '$lib/features/fields';
import { joined, namesOf, unnamedLinks } from './link-names.ts';
import { openQuestions, Questions } from './questions.ts';

const type = {
  key: 'deal',
  name: 'Deal',
  plural: 'Deals',
  forms: [],
  fields: [
    { key: 'amount', name: 'Amount', type: 'number' },
    { key: 'note', name: 'Note', type: 'text' },
    { key: 'customer', name: 'Customer', type: 'lookup', recordType: 'customer' },
  ],
} as unknown as RecordType;
const customer = {
  key: 'customer',
  name: 'Customer',
  plural: 'Customers',
  title: ['name'],
  forms: [],
  fields: [{ key: 'name', name: 'Name', type: 'text' }],
} as unknown as RecordType;
const [amount, note] = type.fields as [RecordType['fields'][number], RecordType['fields'][number]];

describe('what was done on a form', () => {
  const stored = { id: 7, version: 3, data: { amount: 5 }, held: [] };
  it.each<[string, Acts, object]>([
    ['nothing', noActs, { sent: {}, typed: [], woken: [], handBack: [] }],
    ['a value', withValue(noActs, amount, '30', 5), { sent: { amount: '30' }, typed: ['amount'] }],
    [
      'what stands there already',
      withValue(withValue(noActs, amount, '30', 5), amount, '5', 5),
      { sent: {}, typed: [] },
    ],
    [
      'two values, the second one first changed again',
      withValue(withValue(withValue(noActs, note, 'a', null), amount, '1', 5), note, 'b', null),
      { sent: { note: 'b', amount: '1' }, typed: ['amount', 'note'] },
    ],
    [
      'a field handed back takes what was typed',
      withHandedBack(withValue(noActs, amount, '30', 5), 'amount'),
      { typed: [], handBack: ['amount'] },
    ],
    [
      'a value typed after that takes it back',
      withValue(withHandedBack(noActs, 'amount'), amount, '30', 5),
      { typed: ['amount'], handBack: [] },
    ],
    [
      'a field handed back twice is so once',
      withHandedBack(withHandedBack(noActs, 'amount'), 'amount'),
      { handBack: ['amount'] },
    ],
    ['an answer taken', withWoken(noActs, 'r'), { woken: ['r'] }],
  ])('%s is sent as such', (_, acts, request) => {
    expect(saveRequestOf(acts, 'full', stored, {}, {})).toMatchObject({ id: 7, version: 3, form: 'full', ...request });
    expect(isTouched(acts)).toBe(acts.typed.length + acts.woken.length + acts.handedBack.length > 0);
  });

  it('goes with what a blank form began with and what rules of forms alone wrote, which nobody typed', () => {
    const acts = withValue(withValue(noActs, amount, '30', null), note, 'mine', null);
    expect(saveRequestOf(acts, 'full', null, { amount: 1, customer: '4' }, { note: 'rule' })).toEqual({
      form: 'full',
      sent: { amount: '30', customer: '4', note: 'rule' },
      typed: ['amount'],
      woken: [],
      handBack: [],
    });
  });
});

const record = (id: string): RecordQuery => ({ kind: 'record', recordType: 'customer', id });
const rows = (value: string): RowsQuery => ({ table: 't', keys: [`s${value}`] });
const found = (id: string, name: string): FoundRecord => ({ id, data: { name } }) as unknown as FoundRecord;
const waiting = (asks: readonly RecordQuery[], rowsAsked: readonly RowsQuery[] = []): Settlement =>
  ({ asks, rowsAsked }) as unknown as Settlement;

class Answering {
  readonly asked: unknown[] = [];
  name = 'first';
  answer: Promise<void> = Promise.resolve();
  async related(asks: readonly RecordQuery[]): Promise<readonly (readonly FoundRecord[])[]> {
    this.asked.push(...asks);
    const { name } = this;
    await this.answer;
    return asks.map((a) => (a.kind === 'record' && a.id !== 'gone' ? [found(a.id, name)] : []));
  }
  async rows(queries: readonly RowsQuery[]) {
    this.asked.push(...queries);
    await this.answer;
    return queries.map(() => [{ index: 0, row: { key: 'x' } }]);
  }
}

describe('what rules ask', () => {
  it('is asked once, however many wait for it', () => {
    const open = openQuestions([waiting([record('1'), record('2')], [rows('a')]), waiting([record('1')], [rows('a')])]);
    expect(open).toEqual({ asks: [record('1'), record('2')], rows: [rows('a')] });
  });

  it('is answered, asked again of records alone, and forgotten after a save', async () => {
    const server = new Answering();
    const questions = new Questions(server, 1);
    questions.begin(['t']);
    expect(await questions.askAgain()).toBe(false);
    await questions.answer({ asks: [record('1')], rows: [rows('a')] });
    expect(questions.source.answer(record('1'))?.[0]?.data).toEqual({ name: 'first' });
    server.name = 'second';
    expect(await questions.askAgain()).toBe(true);
    expect(questions.source.answer(record('1'))?.[0]?.data).toEqual({ name: 'second' });
    expect(server.asked).toEqual([record('1'), rows('a'), record('1')]);
    questions.forget();
    expect(questions.source.answer(record('1'))).toBeUndefined();
    expect(questions.source.rows?.has('t')).toBe(true);
    expect(await questions.askAgain()).toBe(false);
  });

  it('an answer on its way while the record is saved is no answer after it', async () => {
    const server = new Answering();
    let arrive = (): void => undefined;
    server.answer = new Promise((done) => (arrive = done));
    const questions = new Questions(server, 1);
    const asked = questions.answer({ asks: [record('1')], rows: [] });
    questions.forget();
    arrive();
    await asked;
    expect(questions.source.answer(record('1'))).toBeUndefined();
  });
});

describe('names of links', () => {
  const idsIn = (ids: Readonly<Record<string, string | null>>) => (field: string) => [ids[field]];
  it.each<[string, Record<string, string | null>, Titles, RecordQuery[]]>([
    ['is asked for', { customer: '4' }, {}, [record('4')]],
    ['is not where the page brought it along', { customer: '4' }, { customer: { 4: 'Aske' } }, []],
    ['is not for an empty link, or a field that is none', { customer: null, note: '4' }, {}, []],
  ])('a name %s', (_, ids, known, asks) => {
    expect(unnamedLinks(type, idsIn(ids), known)).toEqual(asks);
  });

  it('a record that is gone is called by its id, and what was known stays', async () => {
    const links = ['4', 'gone'].map(record) as Extract<RecordQuery, { kind: 'record' }>[];
    const names = await namesOf(links, [type, customer], new Answering(), 1);
    expect(joined({ customer: { 1: 'One' }, site: { 2: 'Two' } }, names)).toEqual({
      customer: { 1: 'One', 4: 'first', gone: 'gone' },
      site: { 2: 'Two' },
    });
  });
});

describe('whatever is typed and handed back', () => {
  it('no field is both, and nothing is sent that was not done', () => {
    const act = fc.record({
      field: fc.constantFrom(amount, note),
      what: fc.constantFrom('type', 'hand back'),
      value: fc.constantFrom('', '1', '2'),
    });
    fc.assert(
      fc.property(fc.array(act, { maxLength: 12 }), (done) => {
        const acts = done.reduce(
          (all, { field, what, value }) =>
            what === 'type' ? withValue(all, field, value, null) : withHandedBack(all, field.key),
          noActs,
        );
        const { typed, handBack, sent } = saveRequestOf(acts, 'full', null, {}, {});
        expect(typed.filter((key) => handBack.includes(key))).toEqual([]);
        expect(Object.keys(sent)).toEqual(typed);
        const last = (key: string) => done.findLast((d) => d.field.key === key);
        for (const key of typed) expect(last(key)?.what).toBe('type');
        for (const key of handBack) expect(last(key)?.what).toBe('hand back');
      }),
    );
  });
});

/** What rules do with other records: paths, tables, matches, totals, conversion, notifications. */
import { describe, expect, it } from 'vitest';
import type { Rule, Rulebook } from '../document/document.ts';
import { dealBook, dealRecords, ruleOf, setTo, writeOf } from '../testing/deals.ts';
import { settleBatch } from './batch.ts';
import { compileProgram } from '../compile/program.ts';
import { settle } from '../settle/settle.ts';
import type { Settlement } from '../settle/settlement.ts';
import type { Write } from '../records/write.ts';
import { isTrialMember, trialCondition } from './trial.ts';
import { settleAnswered } from './propagation.ts';
import { AnsweredSource, RecordsSource } from '../records/record-source.ts';

function run(rules: readonly Rule[], write: Write, more: Partial<Rulebook> = {}): Settlement {
  const program = compileProgram(dealBook(rules, more));
  const problems = [
    ...program.broken.flatMap((r) => r.diagnostics),
    ...[...program.tables.values()].flatMap((t) => t.diagnostics),
  ];
  expect(problems.map((d) => d.message)).toEqual([]);
  return settle(program, write, new RecordsSource(dealRecords));
}

const copy = { do: 'clear' } as const;
const otherwise = { blank: copy, none: copy, several: { do: 'leave' } } as const;
const byTable = (outputs: readonly object[], more: object = {}): unknown => ({
  source: { by: 'table', table: 'countries', keys: { country: 'Home country' } },
  onto: '',
  outputs,
  ...otherwise,
  ...more,
});
const toCustomer = {
  source: {
    by: 'match',
    recordType: 'customer',
    ways: [
      { field: 'name', formula: 'Firm as given', mode: 'folded' },
      { field: 'phone', formula: 'Email', mode: 'exact' },
    ],
  },
  onto: '',
  outputs: [{ value: '', target: 'customer', way: 'replace' }],
  blank: { do: 'leave' },
  none: { do: 'leave' },
  several: { do: 'leave' },
};

describe('what a rule gives', () => {
  const title = ruleOf('deal', 'derive', {
    steps: [{ target: 'title', scratch: '', template: '{Customer.Name}, {Deal kind}', blank: 'gaps' }],
  });
  const stamp = ruleOf('contact', 'derive', setTo('answered', 'now()'), { wakesOn: ['answer'] });
  const crops = (way: string): Rule => ruleOf('customer', 'map', byTable([{ value: 'crops', target: 'crops', way }]));
  const limits = (then: string): Rule =>
    ruleOf('customer', 'validate', {
      limits: [
        {
          field: 'crops',
          source: 'Home country',
          grid: [
            { value: 'Norway', allowed: ['Apple'] },
            { value: 'Spain', allowed: ['Olive', 'Grape'] },
          ],
          otherwise: then,
          message: 'Not grown there.',
        },
      ],
    });
  const lost = ruleOf('deal', 'derive', setTo('previous', 'previous.Stage'), { condition: 'has changed(Stage)' });
  const furthest = ruleOf(
    'deal',
    'derive',
    setTo('furthest', 'furthest(previous.Furthest stage, Stage)', { blank: 'leave' }),
  );
  const cost = ruleOf(
    'deal',
    'derive',
    setTo(
      'cost',
      'if moved back(Stage) and Stage = "Surveyed" then 750 else if previous.Stage = "Enquiry" then 120 else null',
      { blank: 'leave' },
    ),
    { wakesOn: ['stage'] },
  );
  const split = ruleOf(
    'contact',
    'derive',
    {
      steps: [
        { target: '', scratch: 'parts', formula: 'words(Last name)', blank: 'clear' },
        { target: 'first', scratch: '', formula: 'if count(parts) > 1 then parts[1] else null', blank: 'leave' },
        {
          target: 'last',
          scratch: '',
          formula: 'if count(parts) > 1 then string join(sublist(parts, 2), " ") else Last name',
          blank: 'leave',
        },
      ],
    },
    { moments: ['creating'], wakesOn: ['last'], condition: 'is blank(First name) and Customer = null' },
  );
  const area = ruleOf('customer', 'map', {
    source: {
      by: 'match',
      recordType: 'area',
      ways: [{ field: 'prefix', formula: 'Postcode', mode: 'longest prefix' }],
    },
    onto: '',
    outputs: [{ value: '', target: 'area', way: 'replace' }],
    ...otherwise,
  });
  const depotOf = ruleOf('customer', 'derive', setTo('name', 'Service area.Depot'));
  const convert = ruleOf('customer', 'derive', setTo('name', 'origin.Firm as given', { blank: 'leave' }), {
    entryPoints: ['conversion'],
    wakesOn: ['country'],
  });

  it.each<[string, readonly Rule[], Write, Record<string, unknown>]>([
    [
      'a title from a linked record',
      [title],
      writeOf('deal', null, { customer: '1', kind: 'plan' }),
      { title: 'Alder Growers, Plan' },
    ],
    ['a gap where the other record is missing', [title], writeOf('deal', null, { kind: 'plan' }), { title: ', Plan' }],
    [
      'an instant, when the answer changes',
      [stamp],
      writeOf('contact', { answer: 'no' }, { answer: 'yes' }),
      { answered: '2026-05-03T08:00:00Z' },
    ],
    [
      'nothing, when the answer stays',
      [stamp],
      writeOf('contact', { answer: 'no' }, { answer: 'no', last: 'x' }),
      { answered: undefined },
    ],
    [
      'two outputs of one row',
      [
        ruleOf(
          'customer',
          'map',
          byTable([
            { value: 'region', target: 'region' },
            { value: 'currency', target: 'currency' },
          ]),
        ),
      ],
      writeOf('customer', null, { country: 'spain' }),
      { region: 'south', currency: 'EUR' },
    ],
    [
      'blank, for a key that the table lacks',
      [ruleOf('customer', 'map', byTable([{ value: 'region', target: 'region' }]))],
      writeOf('customer', { region: 'north' }, { country: 'chile' }),
      { region: undefined },
    ],
    [
      'a set of options, replaced',
      [crops('replace')],
      writeOf('customer', { crops: ['apple'] }, { country: 'portugal' }),
      { crops: ['olive', 'grape'] },
    ],
    [
      'a set of options, added to',
      [crops('add')],
      writeOf('customer', { crops: ['apple'] }, { country: 'portugal' }),
      { crops: ['apple', 'olive', 'grape'] },
    ],
    [
      'a set of options, taken from',
      [crops('remove')],
      writeOf('customer', { crops: ['apple', 'olive'] }, { country: 'portugal' }),
      { crops: ['apple'] },
    ],
    [
      'a column of a table in a formula',
      [ruleOf('customer', 'derive', setTo('currency', 'Country table[Country = record.Home country].Table currency'))],
      writeOf('customer', null, { country: 'norway' }),
      { currency: 'NOK' },
    ],
    [
      'the one record that matches, case and spaces aside',
      [ruleOf('contact', 'map', toCustomer)],
      writeOf('contact', null, { firm: ' ALDER  growers' }),
      { customer: '1' },
    ],
    [
      'nothing where two match',
      [ruleOf('contact', 'map', toCustomer)],
      writeOf('contact', { customer: '1' }, { firm: 'Fen Orchards' }),
      { customer: '1' },
    ],
    [
      'the longest beginning, and what lies behind it',
      [area, depotOf],
      writeOf('customer', null, { postcode: '41 00-100' }),
      { area: '32', name: 'Gaia' },
    ],
    ['the stage before', [lost], writeOf('deal', { stage: 'won' }, { stage: 'withdrawn' }), { previous: 'won' }],
    [
      'the stage before, not by another edit',
      [lost],
      writeOf('deal', { stage: 'won', previous: 'proposal' }, { amount: 5 }),
      { previous: 'proposal' },
    ],
    [
      'the furthest stage, back again',
      [furthest],
      writeOf('deal', { stage: 'won', furthest: 'won' }, { stage: 'enquiry' }),
      { furthest: 'won' },
    ],
    [
      'the furthest stage, out of order',
      [furthest],
      writeOf('deal', { stage: 'proposal', furthest: 'proposal' }, { stage: 'withdrawn' }),
      { furthest: 'proposal' },
    ],
    ['a cost for the way back', [cost], writeOf('deal', { stage: 'proposal' }, { stage: 'surveyed' }), { cost: 750 }],
    [
      'a cost for leaving the first',
      [cost],
      writeOf('deal', { stage: 'enquiry' }, { stage: 'surveyed' }),
      { cost: 120 },
    ],
    [
      'first and last name',
      [split],
      writeOf('contact', null, { last: ' Ana  Maria Moor ' }),
      { first: 'Ana', last: 'Maria Moor' },
    ],
    ['one word stays', [split], writeOf('contact', null, { last: 'Moor' }), { first: undefined, last: 'Moor' }],
    [
      'the only option left',
      [limits('only')],
      writeOf('customer', { country: 'spain', crops: ['olive'] }, { country: 'norway' }),
      { crops: ['apple'] },
    ],
    [
      'what is still allowed',
      [limits('clear')],
      writeOf('customer', { country: 'portugal', crops: ['apple', 'olive'] }, { country: 'spain' }),
      { crops: ['olive'] },
    ],
    [
      'values of the record that it is made from',
      [convert],
      writeOf(
        'customer',
        null,
        { country: 'spain' },
        { entryPoint: 'conversion', typed: [], origin: { recordType: 'contact', data: { firm: 'Moor & Sons' } } },
      ),
      { name: 'Moor & Sons' },
    ],
    [
      'the date of the change',
      [ruleOf('customer', 'derive', setTo('reviewed', 'today()'), { wakesOn: ['phone'] })],
      writeOf('customer', { phone: '123' }, { phone: '1234' }),
      { reviewed: '2026-05-03' },
    ],
    [
      'the writer’s own record',
      [ruleOf('deal', 'default', { target: 'customer', value: 'user.contact.Customer' })],
      writeOf(
        'deal',
        null,
        { title: 'x' },
        { user: { name: 'Ana', email: 'a@b.example', role: 'author', contact: '11' } },
      ),
      { customer: '1' },
    ],
    [
      'a total over its children',
      [ruleOf('customer', 'derive', setTo('open', 'sum(Deals[Stage in ("Surveyed", "Proposal")].Amount)'))],
      writeOf(
        'customer',
        { name: 'A' },
        {},
        { id: '1', woken: ['x'], relatedChanges: ['children:customer:deal#amount'] },
      ),
      { open: 100 },
    ],
    [
      'groups of options',
      [
        ruleOf('customer', 'categorize', {
          source: 'Home country',
          target: 'region',
          groups: [
            { values: ['Portugal', 'Spain'], result: 'south' },
            { values: ['Norway'], result: 'north' },
          ],
          blank: copy,
          outside: copy,
        }),
      ],
      writeOf('customer', null, { country: 'spain' }),
      { region: 'south' },
    ],
    [
      'bands of dates',
      [
        ruleOf('customer', 'categorize', {
          source: 'Reviewed on',
          target: 'size',
          bands: [
            { to: '2026-01-01', result: 'micro' },
            { from: '2026-01-01', result: 'large' },
          ],
          blank: copy,
          outside: copy,
        }),
      ],
      writeOf('customer', null, { reviewed: '2025-12-31' }),
      { size: 'micro' },
    ],
  ])('%s', (_, rules, write, expected) => {
    const s = run(rules, write);
    expect(s.messages).toEqual([]);
    expect(Object.fromEntries(Object.keys(expected).map((k) => [k, s.data[k]]))).toEqual(expected);
  });
});

describe('what is refused or said', () => {
  const locked = ruleOf('deal', 'validate', { locked: ['amount'] }, { condition: 'Stage = "Won"' });
  it.each<[string, readonly Rule[], Write, readonly string[]]>([
    [
      'a change under a lock',
      [locked],
      writeOf('deal', { stage: 'won', amount: 1 }, { amount: 2 }),
      ['Amount is locked: Rule 0.'],
    ],
    ['no lock before', [locked], writeOf('deal', { stage: 'proposal', amount: 1 }, { stage: 'won', amount: 2 }), []],
    [
      'an option that is not offered',
      [
        ruleOf('customer', 'validate', {
          limits: [
            {
              field: 'crops',
              source: 'Home country',
              grid: [{ value: 'Norway', allowed: ['Apple'] }],
              otherwise: 'stop',
              message: 'No.',
            },
          ],
        }),
      ],
      writeOf('customer', null, { country: 'norway', crops: ['olive'] }),
      ['No.'],
    ],
    [
      'a value for a text that is too long',
      [ruleOf('customer', 'derive', setTo('currency', '"EURO"'), { condition: 'Name = "x"' })],
      writeOf('customer', null, { name: 'x' }),
      ['Rule 0 gives EURO, which is longer than 3 characters.'],
    ],
    [
      'all checks together',
      [
        ruleOf('deal', 'validate', {
          checks: [
            { hold: 'must', formula: 'Discount <= 0.1', message: 'a', field: 'discount' },
            { hold: 'should', formula: 'Discount <= 0.05', message: 'b', field: 'discount' },
          ],
        }),
      ],
      writeOf('deal', null, { discount: 0.2 }),
      ['a', 'b'],
    ],
  ])('%s', (_, rules, write, messages) => {
    const s = run(
      rules.map((r) => ({ ...r, name: 'Rule 0' })),
      write,
    );
    expect(s.messages.map((m) => m.text)).toEqual(messages);
  });

  it('what failed before only warns where nobody sent anything', () => {
    const rule = ruleOf('deal', 'validate', {
      checks: [{ hold: 'must', formula: 'Amount > 5', message: 'more', field: 'amount' }],
    });
    const follow = { entryPoint: 'rule', typed: [] };
    expect(run([rule], writeOf('deal', { amount: 1 }, { title: 'x' }, follow)).verdict).toBe('saved');
    expect(run([rule], writeOf('deal', { amount: 9 }, { amount: 1 }, follow)).verdict).toBe('stopped');
  });
});

describe('winners', () => {
  const person = ruleOf('customer', 'map', byTable([{ value: 'region', target: 'region' }]), { winner: 'person' });
  it('a held value stands until it is handed back, which wakes the rule', () => {
    const before = { data: { country: 'spain', region: 'north' }, held: ['region'] };
    expect(run([person], writeOf('customer', before, { country: 'portugal' })).data['region']).toBe('north');
    const back = run([person], writeOf('customer', before, {}, { handBack: ['region'] }));
    expect([back.data['region'], back.held]).toEqual(['south', []]);
  });
});

describe('notifications', () => {
  const stop = ruleOf(
    'customer',
    'derive',
    { steps: [] },
    {
      condition: 'Credit stop',
      repeat: 'starts',
      notify: [{ channel: 'email', to: 'Contacts.Email', subject: 'Stop for {Name}', body: 'x', dueInDays: 14 }],
    },
  );
  it.each<[string, Write, readonly string[]]>([
    [
      'one for each address',
      writeOf('customer', { name: 'A', stop: false }, { stop: true }, { id: '1' }),
      ['ana@alder.example'],
    ],
    ['none while it stays so', writeOf('customer', { name: 'A', stop: true }, { name: 'B' }, { id: '1' }), []],
    ['none without contacts', writeOf('customer', { name: 'A', stop: false }, { stop: true }, { id: '2' }), []],
    [
      'none while a form is filled in',
      writeOf('customer', { name: 'A', stop: false }, { stop: true }, { id: '1', moment: 'editing' }),
      [],
    ],
  ])('%s', (_, write, to) => {
    const { notifications } = run([stop], write);
    expect(notifications.map((n) => n.to)).toEqual(to);
    for (const n of notifications) expect([n.subject, n.due]).toEqual(['Stop for A', '2026-05-17']);
  });
});

describe('questions', () => {
  const rules = [
    ruleOf('deal', 'derive', setTo('title', 'Customer.Service area.Depot')),
    ruleOf('deal', 'derive', setTo('cost', 'string length(Title)')),
  ];
  it('a write without answers waits, with all that hangs on it; answers settle it in as many passes as there are steps', async () => {
    const program = compileProgram(dealBook(rules));
    const write = writeOf('deal', null, { customer: '1' });
    const first = settle(program, write);
    expect([first.verdict, first.trace.map((t) => t.verdict)]).toEqual(['waiting', ['waiting', 'waiting']]);
    const known = new AnsweredSource();
    const source = new RecordsSource(dealRecords);
    let passes = 0;
    const done = await settleAnswered(
      () => settle(program, write, known),
      (ask, found) => known.put(ask, found),
      (asks) => {
        passes++;
        return Promise.resolve(asks.map((a) => source.answer(a)));
      },
    );
    expect([done?.verdict, passes]).toEqual(['saved', 1]);
  });
});

describe('a batch', () => {
  it('asks once for what all of its writes need, and settles only those again that wait', async () => {
    const program = compileProgram(dealBook([ruleOf('deal', 'derive', setTo('title', 'Customer.Name'))]));
    const writes = ['1', '2', '1', undefined].map((customer) =>
      writeOf('deal', null, customer ? { customer } : { kind: 'plan' }),
    );
    const source = new RecordsSource(dealRecords);
    const rounds: number[] = [];
    const done = await settleBatch(program, writes, (asks) => {
      rounds.push(asks.length);
      return Promise.resolve(asks.map((a) => source.answer(a)));
    });
    expect(done.map((s) => [s.verdict, s.data['title']])).toEqual([
      ['saved', 'Alder Growers'],
      ['saved', 'Fen  Orchards'],
      ['saved', 'Alder Growers'],
      ['saved', undefined],
    ]);
    expect(rounds).toEqual([2]);
  });
});

describe('a trial group', () => {
  const program = compileProgram(dealBook([]));
  const condition = trialCondition(program.types.get('deal')!, 'Customer.Home country = "Portugal"');
  it.each<[string, Write, boolean]>([
    ['a stored record, as it was', writeOf('deal', { customer: '1' }, { customer: '2' }), true],
    ['a stored record that comes in later', writeOf('deal', { customer: '2' }, { customer: '1' }), false],
    ['a new record, as sent', writeOf('deal', null, { customer: '1' }), true],
    ['unknown is no', writeOf('deal', null, {}), false],
  ])('%s', (_, write, member) => {
    expect(isTrialMember(program, condition, write, new RecordsSource(dealRecords))).toBe(member);
  });
});

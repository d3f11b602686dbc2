import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compileProgram } from '../compile/program.ts';
import { settle } from '../settle/settle.ts';
import { dealBook, dealTypes, ruleOf, setTo, writeOf, mapOf, pairsOf, outputOf } from '../testing/deals.ts';
import { isFieldName } from '../document/names.ts';
import type { Cell, MappingTable, RecordType, Rule, RuleTest, Rulebook } from '../document/document.ts';
import { rename, type Renamed, type Renaming } from './rename.ts';
import { acceptedSteps, settleTest } from '../rule-tests/run.ts';
import { runsOf } from '../testing/runs.ts';

/** The texts of the first rule that hold formulas, in order. */
const textsOf = (rulebook: Rulebook): string[] => {
  const { rule, placed } = compileProgram(rulebook).types.get('deal')!.rules[0]!;
  const at = (path: string): unknown =>
    path
      .split('/')
      .slice(1)
      .reduce<unknown>((o, token) => (o as Record<string, unknown>)[token], rule);
  return [...new Set(placed.formulas.map((f) => f.path))].map((path) => String(at(path)));
};
const done = (renamed: Renamed): Extract<Renamed, { rulebook: Rulebook }> => {
  if ('problem' in renamed) throw new Error(renamed.problem);
  return renamed;
};

const amount = { what: 'field', recordType: 'deal', key: 'amount', name: 'Order value' } as const;
const customerName = { what: 'field', recordType: 'customer', key: 'name', name: 'Firm' } as const;
const won = { what: 'option', recordType: 'deal', field: 'stage', key: 'won', name: 'Signed' } as const;
const table = { what: 'table', key: 'countries', name: 'Land list' } as const;
const column = { what: 'column', table: 'countries', key: 'region', name: 'World part' } as const;

it.each<[Renaming, string, string]>([
  [amount, 'Amount > 0 or Stage = "Won"', 'Order value > 0 or Stage = "Won"'],
  [won, 'Amount > 0 or Stage = "Won"', 'Amount > 0 or Stage = "Signed"'],
  [won, 'Title = "Won"', 'Title = "Won"'],
])('a claim follows too: %o', (renaming, condition, after) => {
  const claim = { key: 'c', name: 'Won deals', recordType: 'deal', condition };
  expect(done(rename({ ...dealBook([]), claims: [claim] }, renaming)).rulebook.claims![0]!.condition).toBe(after);
});

describe('renaming rewrites what means the thing, and nothing else', () => {
  it.each<[Renaming, string, string]>([
    [amount, 'Amount  +  Cost // the Amount', 'Order value  +  Cost // the Amount'],
    [amount, 'previous.Amount + record.Amount', 'previous.Order value + record.Order value'],
    [amount, '{Amount: 1}.Amount + Cost', '{Amount: 1}.Amount + Cost'],
    [amount, 'for Amount in [1] return Amount', 'for Amount in [1] return Amount'],
    [amount, 'sum(Customer.Deals[Amount > 1].Amount)', 'sum(Customer.Deals[Order value > 1].Order value)'],
    [amount, '"Amount"', '"Amount"'],
    [customerName, 'Customer.Name', 'Customer.Firm'],
    [customerName, 'Customer.Service area.Name', 'Customer.Service area.Name'],
    [won, 'if Stage = "Won" then "Won" else null', 'if Stage = "Signed" then "Won" else null'],
    [won, 'Stage in ("Won", "Proposal")', 'Stage in ("Signed", "Proposal")'],
    [table, 'Country table[Country = "Spain"].Table currency', 'Land list[Country = "Spain"].Table currency'],
    [column, 'Country table[Table region = "South"].Table region', 'Land list'],
  ])('%o: %s', (renaming, before, after) => {
    const rule = ruleOf('deal', 'derive', setTo('title', before));
    const result = rename(dealBook([rule]), renaming);
    if ('problem' in result) throw new Error(result.problem);
    const text = textsOf(result.rulebook)[0];
    expect(text).toBe(renaming === column ? 'Country table[World part = "South"].World part' : after);
    if (before !== text) expect(result.rewritten.map((r) => r.path)).toEqual(['/outcome/steps/0/formula']);
  });

  it.each<[string, string, string]>([
    ['stage', 'if Amount > 1 then "Won" else "Proposal"', 'if Amount > 1 then "Signed" else "Proposal"'],
    ['stage', 'first filled(null, "Won") // Won', 'first filled(null, "Signed") // Won'],
    ['title', '"Won"', '"Won"'],
  ])('an option that a formula gives to %s: %s', (target, before, after) => {
    const result = rename(dealBook([ruleOf('deal', 'derive', setTo(target, before))]), won);
    if ('problem' in result) throw new Error(result.problem);
    expect(textsOf(result.rulebook)[0]).toBe(after);
  });

  it('in templates, conditions, notifications, pairs and tables', () => {
    const rule = ruleOf(
      'deal',
      'derive',
      { steps: [{ target: 'title', scratch: '', template: 'For {Amount} {{Amount}}', blank: 'gaps' }] },
      {
        condition: 'Amount > 1',
        notify: [{ channel: 'email', to: '"a@b.example"', subject: '{Amount}', body: 'Amount' }],
      },
    );
    const result = rename(dealBook([rule]), amount);
    if ('problem' in result) throw new Error(result.problem);
    expect(textsOf(result.rulebook)).toEqual([
      'Order value > 1',
      'For {Order value} {{Amount}}',
      '"a@b.example"',
      '{Order value}',
    ]);
    const country = rename(dealBook([]), {
      what: 'option',
      recordType: 'customer',
      field: 'country',
      key: 'spain',
      name: 'España',
    });
    expect('rulebook' in country && country.rulebook.tables![0]!.rows[1]!['country']).toBe('España');
  });

  it('a former name is offered where a text still says it', () => {
    const result = rename(dealBook([ruleOf('deal', 'derive', setTo('cost', 'Amount + + 1'))]), amount);
    if ('problem' in result) throw new Error(result.problem);
    const late = { ...result.rulebook, rules: [ruleOf('deal', 'derive', setTo('cost', 'Amount + 1'))] };
    const [d] = compileProgram(late).broken[0]!.diagnostics;
    expect(d!.message).toContain('Did you mean Order value?');
  });

  it.each<[Renaming, RegExp]>([
    [{ ...amount, name: 'Cost' }, /taken/],
    [{ ...amount, name: 'Amount (net)' }, /cannot be a name/],
    [{ ...amount, name: 'if' }, /cannot be a name/],
    [{ ...amount, key: 'nothing' }, /no such field/],
    [{ ...won, key: 'lost' }, /no such option/],
    [{ ...table, key: 'x' }, /no such table/],
    [{ ...column, key: 'x' }, /no such column/],
    [{ ...amount, name: 'Tax' }, /Rule \d+ would no longer mean the same/],
  ])('%o is refused', (renaming, problem) => {
    const clash = ruleOf('deal', 'derive', setTo('cost', 'for Tax in [1, 2] return Amount'), {});
    const rules =
      renaming.name === 'Tax'
        ? [{ ...clash, outcome: setTo('title', 'string(sum(for Tax in [1] return Amount))') }]
        : [];
    const result = rename(dealBook(rules), renaming);
    expect('problem' in result && result.problem).toMatch(problem);
  });

  it.each<[string, boolean]>([
    ['Umsatz 2', true],
    ['Größe', true],
    ['販売', true],
    ['2nd', false],
    ['a  b', false],
    ['a-b', false],
    ['Sales and costs', false],
    ['', false],
  ])('%s as a name: %s', (name, ok) => {
    expect(isFieldName(name)).toBe(ok);
  });
});

/** A book whose deals have a companion with options of its own, and a field of the same option names that is none. */
const withStages = (rules: readonly Rule[], more: Partial<Rulebook> = {}): Rulebook => {
  const recordTypes = dealTypes.map((t): RecordType =>
    t.key === 'deal'
      ? {
          ...t,
          fields: [
            ...t.fields,
            { key: 'before', name: 'Stage before', type: 'picklist', optionsOf: 'stage' },
            {
              key: 'other',
              name: 'Other stage',
              type: 'picklist',
              options: [
                { key: 'won', name: 'Won' },
                { key: 'lost', name: 'Lost' },
              ],
            },
          ],
        }
      : t,
  );
  return dealBook(rules, { recordTypes, ...more });
};

describe('an option is found by what it meets', () => {
  it.each<[string, string, string?]>([
    ['string(Stage) = "Won"', 'string(Stage) = "Signed"'],
    ['Stage + "" = "Won"', 'Stage + "" = "Signed"'],
    ['count(["Won", "Lost"][item = Stage]) > 0', 'count(["Signed", "Lost"][item = Stage]) > 0'],
    ['some x in ["Won"] satisfies x = Stage', 'some x in ["Signed"] satisfies x = Stage'],
    ['every x in ["Won"] satisfies Stage = x', 'every x in ["Signed"] satisfies Stage = x'],
    ['list contains(["Won"], Stage)', 'list contains(["Signed"], Stage)'],
    ['list contains(concatenate(["Won"], ["x"]), Stage)', 'list contains(concatenate(["Signed"], ["x"]), Stage)'],
    ['get value({"Won": 1, Lost: 2}, Stage) = 1', 'get value({"Signed": 1, Lost: 2}, Stage) = 1'],
    ['get value({Won: 1}, Stage) = 1', 'get value({Signed: 1}, Stage) = 1'],
    ['first filled(Stage, "Won") = "Won"', 'first filled(Stage, "Signed") = "Signed"'],
    ['(if Amount > 1 then "Won" else Stage) = Stage', '(if Amount > 1 then "Signed" else Stage) = Stage'],
    ['{a: "Won"}.a = Stage', '{a: "Signed"}.a = Stage'],
    ['previous.Stage = "Won" and Other stage = "Won"', 'previous.Stage = "Signed" and Other stage = "Won"'],
    ['Customer.Deals[Stage = "Won"].Title = ["Won"]', 'Customer.Deals[Stage = "Signed"].Title = ["Won"]'],
    ['sum(Deals[Stage in ("Won")].Amount) > 1', 'sum(Deals[Stage in ("Signed")].Amount) > 1', 'customer'],
    ['furthest(Stage, "Won") = "Won"', 'furthest(Stage, "Signed") = "Signed"'],
    ['Stage before = "Won"', 'Stage before = "Signed"'],
    ['lower case(Stage) = "won" or Title = "Won"', 'lower case(Stage) = "won" or Title = "Won"'],
    ['Stage between "Won" and "Won"', 'Stage between "Signed" and "Signed"'],
    ['Stage in (["Enquiry".."Won"], > "Won")', 'Stage in (["Enquiry".."Signed"], > "Signed")'],
    ['count(for x in ["Won"] return x = Stage) > 0', 'count(for x in ["Signed"] return x = Stage) > 0'],
    ['some i in 1..3, x in ["Won"] satisfies x = Stage', 'some i in 1..3, x in ["Signed"] satisfies x = Stage'],
    ['{f: function(x) x}.f("Won") = Stage', '{f: function(x) x}.f("Won") = Stage'],
    [
      'some c in [{Won: 1}] satisfies get value(c, Stage) = 1',
      'some c in [{Signed: 1}] satisfies get value(c, Stage) = 1',
    ],
    [
      'get value([{Won: 1}, {Lost: 2, Won: 3}][1], Stage) = 1',
      'get value([{Signed: 1}, {Lost: 2, Signed: 3}][1], Stage) = 1',
    ],
    [
      'get value(if Amount > 1 then {Won: 1} else {Won: 2}, Stage) = 1',
      'get value(if Amount > 1 then {Signed: 1} else {Signed: 2}, Stage) = 1',
    ],
    ['[{a: "Won"}, {a: "Lost"}][1].a = Stage', '[{a: "Signed"}, {a: "Lost"}][1].a = Stage'],
    ['count([{a: "Won"}, {a: "Lost"}][a = Stage]) = 0', 'count([{a: "Signed"}, {a: "Lost"}][a = Stage]) = 0'],
    ['Stage = "Won" or "Won" = Stage', 'Stage = "Signed" or "Signed" = Stage'],
  ])('%s', (before, after, recordType = 'deal') => {
    const rule = ruleOf(recordType, 'validate', {
      checks: [{ hold: 'must', formula: before, message: 'Won', field: '' }],
    });
    const book = withStages([rule]);
    expect(compileProgram(book).broken).toEqual([]);
    const now = done(rename(book, won)).rulebook.rules[0]!.outcome as {
      checks: { formula: string; message: string }[];
    };
    expect(now.checks[0]).toMatchObject({ formula: after, message: 'Won' });
  });

  it('what cannot be known is left and told', () => {
    const rule = ruleOf('deal', 'derive', setTo('title', 'if contains(Stage, "Won") then "Won" else null'));
    const { left, rewritten } = done(rename(withStages([rule]), won));
    expect(left.map((l) => l.path)).toEqual(['/outcome/steps/0/formula']);
    expect(rewritten).toEqual([]);
    const unread = { ...rule, outcome: setTo('title', 'Stage = "Won" and (') };
    expect(done(rename(withStages([unread]), won)).left.map((l) => l.text)).toEqual(['Stage = "Won" and (']);
    expect(done(rename(withStages([unread]), amount)).left).toEqual([]);
  });

  it('groups, pairs, bands, limits, cells and tests', () => {
    const groups = ruleOf('deal', 'categorize', {
      source: 'Stage',
      target: 'title',
      groups: [{ values: ['Won'], result: 'Won' }],
      blank: { do: 'leave' },
      outside: { do: 'leave' },
    });
    const pairs = mapOf('deal', pairsOf('Stage', ['Won', 'Won']), [outputOf('other')], '', {
      none: { do: 'set', value: 'Won' },
    });
    const table: MappingTable = {
      key: 'odds',
      name: 'Odds',
      purpose: '',
      hitPolicy: 'first',
      keys: [{ key: 'stage', name: 'At', field: 'deal.stage' }],
      outputs: [{ key: 'said', name: 'Said' }],
      rows: [{ stage: 'Won', said: 'Won' }, { stage: ['Won', 'Enquiry'] }, { stage: { tests: 'not("Won")' } }],
    };
    const test: RuleTest = {
      key: 't',
      name: 'T',
      recordType: 'deal',
      before: null,
      sent: { stage: 'Won', title: 'Won' },
      moment: 'creating',
      entryPoint: 'api',
      now: '2026-05-03T09:00:00+01:00',
      expect: { fields: { stage: 'Won', title: 'Won' } },
      family: { cases: { sent: ['stage'], expected: ['title'], rows: [['Won', 'Won']] } },
    };
    const { rulebook } = done(rename(withStages([groups, pairs], { tables: [table], tests: [test] }), won));
    expect(rulebook.rules[0]!.outcome).toMatchObject({ groups: [{ values: ['Signed'], result: 'Won' }] });
    expect(rulebook.rules[1]!.outcome).toMatchObject({
      source: { pairs: [{ from: 'Signed', to: 'Won' }] },
      none: { value: 'Won' },
    });
    expect(rulebook.tables![0]!.rows).toEqual([
      { stage: 'Signed', said: 'Won' },
      { stage: ['Signed', 'Enquiry'] },
      { stage: { tests: 'not("Signed")' } },
    ]);
    expect(rulebook.tests![0]).toMatchObject({
      sent: { stage: 'Signed', title: 'Won' },
      expect: { fields: { stage: 'Signed', title: 'Won' } },
      family: { cases: { rows: [['Signed', 'Won']] } },
    });
  });

  it('options shared by companions are one list; a list of its own that takes the values follows', () => {
    const kept = ruleOf('deal', 'derive', setTo('previous', 'previous.Stage'), { condition: 'has changed(Stage)' });
    const also = ruleOf('deal', 'derive', setTo('before', 'previous.Stage'), { condition: 'has changed(Stage)' });
    const { rulebook } = done(rename(withStages([kept, also]), won));
    const fields = rulebook.recordTypes.find((t) => t.key === 'deal')!.fields;
    const names = (key: string) => fields.find((f) => f.key === key)?.options?.map((o) => o.name);
    expect(names('stage')).toContain('Signed');
    expect(names('previous')).toContain('Signed');
    expect(names('other')).toEqual(['Won', 'Lost']);
    expect(names('before')).toBeUndefined();
    const write = writeOf('deal', { stage: 'won' }, { stage: 'enquiry' });
    const { verdict, data } = settle(compileProgram(rulebook), write);
    expect([verdict, data['previous'], data['before']]).toEqual(['saved', 'won', 'won']);
  });
});

describe('an option in a table', () => {
  const spain = { what: 'option', recordType: 'customer', field: 'country', key: 'spain', name: 'España' } as const;
  const lands = (cells: readonly Cell[], outputs: MappingTable['outputs'] = []): MappingTable => ({
    key: 'lands',
    name: 'Lands',
    purpose: '',
    hitPolicy: 'priority',
    keys: [{ key: 'k', name: 'K', field: 'customer.country', order: ['Norway', 'Spain'] }],
    outputs: [{ key: 'o', name: 'O', field: 'customer.country', order: ['Spain', 'Chile'] }, ...outputs],
    rows: cells.map((k) => ({ k, o: 'Norway' })),
  });

  it('is renamed in tests and in the order of columns; what cannot be read is left and told', () => {
    const cells = ['Spain', ['Chile', 'Spain'], { tests: 'not("Spain")' }, { tests: '? = "Spain" or ? = "Norway"' }];
    const table = lands([...cells, { tests: '"Spain" (' }]);
    const { rulebook, left } = done(rename(dealBook([], { tables: [table] }), spain));
    const [now] = rulebook.tables!;
    expect(now!.rows.map((r) => r['k'])).toEqual([
      'España',
      ['Chile', 'España'],
      { tests: 'not("España")' },
      { tests: '? = "España" or ? = "Norway"' },
      { tests: '"Spain" (' },
    ]);
    expect([now!.keys[0]!.order, now!.outputs[0]!.order]).toEqual([
      ['Norway', 'España'],
      ['España', 'Chile'],
    ]);
    expect(left.map((l) => l.path)).toEqual(['/rows/4/k/tests']);
  });

  it('is left where a column without a field meets lists that do not follow', () => {
    const kinds = [{ key: 'spain', name: 'Spain' }];
    const recordTypes = dealTypes.map((t) =>
      t.key === 'contact'
        ? { ...t, fields: [...t.fields, { key: 'land', name: 'Land', type: 'text', options: kinds }] }
        : t,
    );
    const free = { ...lands(['Spain', { tests: '"Spain"' }]), keys: [{ key: 'k', name: 'K' }] };
    const asked = mapOf('customer', { by: 'table', table: 'lands', keys: { k: 'Home country' } }, [
      outputOf('country', 'o'),
    ]);
    const { rulebook } = done(rename(dealBook([asked], { tables: [free], recordTypes }), spain));
    expect(rulebook.tables![0]!.rows.map((r) => r['k'])).toEqual(['España', { tests: '"España"' }]);
    const { tables: _, ...without } = dealBook([]);
    expect(done(rename(without, spain)).rewritten).toEqual([]);
  });
});

describe('tests that held go on holding', () => {
  const test = (more: Partial<RuleTest>): RuleTest => ({
    key: 't',
    name: 'T',
    recordType: 'deal',
    before: null,
    sent: { stage: 'won', kind: 'plan' },
    moment: 'creating',
    entryPoint: 'form:full',
    now: '2026-05-03T09:00:00Z',
    expect: {},
    ...more,
  });
  const titled = ruleOf('deal', 'derive', {
    steps: [{ target: 'title', scratch: '', template: 'Deal: {Stage}', blank: 'gaps' }],
  });
  const needed = ruleOf('deal', 'validate', { required: ['amount'] });
  const toCustomer = ruleOf('deal', 'derive', setTo('cost', 'Amount'));
  const onto = mapOf('deal', pairsOf('Stage', ['Won', 'Won it']), [outputOf('postcode')], 'customer');
  const missing = 'Amount has to be filled in.';
  const rules = [titled, needed, toCustomer, onto];

  const cases = (...[one, two]: readonly [string, string]): Partial<RuleTest> => {
    const rows = [['Deal: Won', one] as const, ['x', two] as const];
    return { expect: {}, family: { cases: { sent: ['title'], expected: ['title'], rows } } };
  };
  const says = (...messages: readonly string[]) => ({ expect: { messages } });
  const titles = (title: string) => ({ expect: { fields: { title, kind: 'Plan' }, messages: [missing] } });
  it.each<[string, Renaming, Partial<RuleTest>, Partial<RuleTest>]>([
    ['a message', amount, says(missing), says('Order value has to be filled in.')],
    ['a text made of an option, not a message beside it', won, titles('Deal: Won'), titles('Deal: Signed')],
    ['cases, not what they send', won, cases('Deal: Won', 'Deal: Won'), cases('Deal: Signed', 'Deal: Signed')],
    ['one that did not hold stays as it is', won, titles('Deal: Won!'), titles('Deal: Won!')],
  ])('%s', (_, renaming, before, after) => {
    const book = dealBook(rules, { tests: [test(before)] });
    const [now] = done(rename(book, renaming)).rulebook.tests!;
    expect(now).toMatchObject(after);
  });

  it('values for other records, and steps that were accepted', () => {
    const given = { recordType: 'customer', key: '1', field: 'postcode', value: 'Won it' };
    const related = [{ recordType: 'customer', key: '1', data: { name: 'A' } }];
    const one = test({ sent: { stage: 'won', customer: '1', amount: 5 }, related, expect: { related: [given] } });
    const program = compileProgram(dealBook(rules, { tests: [one] }));
    const accepted = acceptedSteps(settleTest(program, one), program.types.get('deal')!);
    expect(accepted.map((s) => s.text)).toContain('Title: Deal: Won');
    const { rulebook, rewritten } = done(rename(dealBook(rules, { tests: [{ ...one, accepted }] }), won));
    const [now] = rulebook.tests!;
    expect(now?.accepted?.map((s) => s.text)).toContain('Title: Deal: Signed');
    expect(now?.expect.related).toEqual([given]);
    expect(rewritten.filter((r) => r.part.kind === 'test')).toEqual([]);
  });

  it('lists that are looked up in one column, held against each other or made from each other follow', () => {
    const land = { key: 'land', name: 'Land', type: 'picklist', options: [{ key: 'es', name: 'Spain' }] };
    const recordTypes = dealTypes.map((t) => (t.key === 'contact' ? { ...t, fields: [...t.fields, land] } : t));
    const spain = { what: 'option', recordType: 'customer', field: 'country', key: 'spain', name: 'España' } as const;
    const landAfter = (...rules: readonly Rule[]): string | undefined => {
      const { rulebook } = done(rename(dealBook(rules, { recordTypes }), spain));
      const field = rulebook.recordTypes.find((t) => t.key === 'contact')!.fields.find((f) => f.key === 'land');
      return field!.options![0]!.name;
    };
    const countries = { by: 'table', table: 'countries', keys: { country: 'Land' } };
    const lookedUp = mapOf('contact', countries, [outputOf('firm', 'currency')]);
    const name = setTo('firm', '"x"');
    expect(landAfter()).toBe('Spain');
    expect(landAfter(lookedUp)).toBe('España');
    expect(landAfter(ruleOf('contact', 'derive', name, { condition: 'Customer.Home country = Land' }))).toBe('España');
    expect(landAfter(ruleOf('contact', 'derive', name, { condition: 'Land in (Customer.Home country)' }))).toBe(
      'España',
    );
    expect(landAfter(ruleOf('customer', 'derive', setTo('country', 'origin.Land')))).toBe('España');
  });
});

describe('names are found wherever they lead', () => {
  const convert = (formula: string) =>
    ruleOf('customer', 'derive', setTo('name', formula), { entryPoints: ['conversion'] });
  const ways = [{ field: 'name', formula: 'Firm as given', mode: 'folded' }];
  const ofMatch = mapOf('contact', { by: 'match', recordType: 'customer', ways }, [outputOf('firm', 'match.Phone')]);
  const scratch = ruleOf('deal', 'derive', {
    steps: [
      { target: '', scratch: 'firm', formula: 'Customer', blank: 'clear' },
      { target: 'title', scratch: '', formula: 'firm.Phone', blank: 'clear' },
    ],
  });
  const phone: Renaming = { what: 'field', recordType: 'customer', key: 'phone', name: 'Call' };
  const contacts: Renaming = { what: 'plural', recordType: 'contact', name: 'People' };
  it.each<[string, Rule, Renaming, string]>([
    [
      'what a conversion starts from',
      convert('origin.Firm as given'),
      { what: 'field', recordType: 'contact', key: 'firm', name: 'Employer' },
      'origin.Employer',
    ],
    ['a matched record', ofMatch, phone, 'match.Call'],
    ['a record kept in a scratch value', scratch, phone, 'firm.Call'],
    [
      'a plural',
      ruleOf('customer', 'derive', setTo('name', 'string(count(Contacts[First name = "x"]))')),
      contacts,
      'count(People[',
    ],
    [
      'a plural along a path',
      ruleOf('deal', 'derive', setTo('title', 'string(count(Customer.Contacts))')),
      contacts,
      'Customer.People',
    ],
    [
      'the other end of one lookup',
      ruleOf('customer', 'derive', setTo('open', 'sum(Deals.Amount)')),
      { what: 'children', recordType: 'deal', key: 'customer', name: 'Orders' },
      'sum(Orders.Amount)',
    ],
    [
      'a map onto a child list',
      mapOf('customer', pairsOf('Name', ['x', 'y']), [outputOf('firm')], 'Contacts'),
      contacts,
      '"onto":"People"',
    ],
  ])('%s', (_, rule, renaming, after) => {
    const book = dealBook([rule]);
    expect(compileProgram(book).broken).toEqual([]);
    const { rulebook, left } = done(rename(book, renaming));
    expect(JSON.stringify(rulebook.rules[0]!.outcome)).toContain(after);
    expect(left).toEqual([]);
    expect(compileProgram(rulebook).broken).toEqual([]);
  });

  it('a name that may be another record’s is left and told', () => {
    const { left, rewritten } = done(rename(dealBook([convert('origin.Name')]), customerName));
    expect([left.map((l) => l.text), rewritten]).toEqual([['origin.Name'], []]);
  });

  it.each<[Renaming, RegExp]>([
    [{ what: 'plural', recordType: 'contact', name: 'Deals' }, /taken/],
    [{ what: 'plural', recordType: 'contact', name: 'Phone' }, /taken/],
    [{ what: 'plural', recordType: 'x', name: 'People' }, /no such record type/],
    [{ what: 'children', recordType: 'deal', key: 'title', name: 'People' }, /no such lookup/],
  ])('%o is refused', (renaming, problem) => {
    const result = rename(dealBook([]), renaming);
    expect('problem' in result && result.problem).toMatch(problem);
  });
});

/** Any formula over the record means the same under the new names: the property that finds a use which is missed. */
it('random conditions give the same truth after an option and a field are renamed', () => {
  const atoms = [
    'Stage = "Won"',
    'string(Stage) = "Won"',
    'list contains(["Won", "Proposal"], Stage)',
    'Stage in ("Won", "Enquiry")',
    'first filled(Stage, "Won") = "Won"',
    'get value({"Won": 1, "Proposal": 2}, Stage) = 1',
    'some s in ["Enquiry", "Won"] satisfies s = Stage',
    'Amount > 5',
    '(if Amount > 5 then Stage else "Won") = "Won"',
    'count(["Won", "Surveyed"][item = Stage]) = 1',
    'Other stage = "Won"',
    'Title = "Won"',
  ];
  const formula = fc.letrec<{ tree: string }>((tie) => ({
    tree: fc.oneof(
      { maxDepth: 3 },
      fc.constantFrom(...atoms),
      fc.tuple(tie('tree'), fc.constantFrom('and', 'or', '='), tie('tree')).map(([a, op, b]) => `(${a}) ${op} (${b})`),
      tie('tree').map((a) => `not(${a})`),
      tie('tree').map((a) => `if ${a} then Stage = "Won" else false`),
    ),
  })).tree;
  const record = fc.record({
    stage: fc.constantFrom('won', 'enquiry', 'proposal', null),
    other: fc.constantFrom('won', 'lost', null),
    amount: fc.constantFrom(1, 9, null),
    title: fc.constantFrom('Won', 'x', null),
  });
  fc.assert(
    fc.property(formula, record, (text, sent) => {
      const rule = ruleOf('deal', 'validate', {
        checks: [{ hold: 'must', formula: text, message: 'No.', field: '' }],
      });
      const book = withStages([rule]);
      const first = done(rename(book, won)).rulebook;
      const second = done(rename(first, amount)).rulebook;
      const messages = (b: Rulebook) =>
        settle(compileProgram(b), writeOf('deal', null, sent)).messages.map((m) => m.text);
      expect(messages(second)).toEqual(messages(book));
    }),
    { numRuns: runsOf(80) },
  );
});

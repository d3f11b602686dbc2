/** A program compiles what is asked for, and knows who reads whom without compiling what cannot. */
import { describe, expect, it } from 'vitest';
import type { RecordType, Rule, Rulebook } from '../document/document.ts';
import { countryTable, dealBook, dealTypes, mapOf, outputOf, pairsOf, ruleOf, setTo } from '../testing/deals.ts';
import { entryPointClass } from './entry-points.ts';
import { hostNeeds } from './host-needs.ts';
import { searchesInSteps } from './searches.ts';
import type { TypeProgram } from './compiled.ts';
import { rulesByField, rulesOfField } from './field-rules.ts';
import { inOneGo } from '../values/steps.ts';
import { compileInSteps, compileProgram, recompileProgram } from './program.ts';

/** A record type that no link leads to. */
const alone: RecordType = { ...dealTypes[0]!, key: 'alone', name: 'Alone', plural: 'Those alone' };
const unlinked = { ...alone, fields: alone.fields.filter((f) => f.type !== 'lookup') };

const rules: Record<string, Rule> = {
  customer: ruleOf('customer', 'derive', setTo('open', 'sum(Deals.Amount)')),
  contact: ruleOf('contact', 'derive', setTo('firm', 'Customer.Service area.Name')),
  deal: ruleOf('deal', 'derive', setTo('title', 'Customer.Name')),
  alone: ruleOf('alone', 'derive', setTo('currency', 'Name')),
};

/** A rulebook of these rules, and which record types' rules were looked at since it was compiled. */
function watched(): { readonly book: Rulebook; readonly looked: Set<string> } {
  const looked = new Set<string>();
  const watch = (rule: Rule): Rule =>
    Object.defineProperty({ ...rule }, 'outcome', {
      enumerable: true,
      get: () => (looked.add(rule.recordType), rule.outcome),
    });
  const book = dealBook(Object.values(rules).map(watch));
  return { book: { ...book, recordTypes: [...book.recordTypes, unlinked] }, looked };
}

describe('what a program compiles', () => {
  it.each<[string, (program: ReturnType<typeof compileProgram>) => unknown, readonly string[]]>([
    ['nothing by itself', () => undefined, []],
    ['a type that is asked for', (p) => p.types.get('deal'), ['deal']],
    ['none by whether there is one', (p) => [p.types.has('deal'), p.types.has('none'), p.types.size], []],
    ['none for readers that no link leads to', (p) => p.readers.get('alone'), ['alone']],
    ['what links lead to for readers', (p) => p.readers.get('area'), ['contact', 'customer', 'deal']],
    ['all for what is broken', (p) => p.broken, ['alone', 'contact', 'customer', 'deal']],
  ])('%s', (_, ask, wanted) => {
    const { book, looked } = watched();
    const program = compileProgram(book);
    looked.clear();
    ask(program);
    expect([...looked].sort()).toEqual(wanted);
    looked.clear();
    ask(program);
    expect([...looked], 'twice').toEqual([]);
  });

  it('in steps leaves nothing to do', () => {
    const { book, looked } = watched();
    const steps = compileInSteps(book);
    let step = steps.next();
    while (!step.done) step = steps.next();
    looked.clear();
    for (const _ of step.value.types) for (const key of step.value.types.keys()) step.value.readers.get(key);
    expect(looked.size + step.value.broken.length).toBe(0);
  });

  it('in steps as far as it is asked for: those types, once, and none of which nothing changed', () => {
    const { book, looked } = watched();
    const program = compileProgram(book);
    looked.clear();
    const steps = program.prepareTypes(['deal', 'none', 'contact']);
    expect([steps.next().done, looked.size]).toEqual([false, 0]);
    // Who cannot wait has it meanwhile, and it stays that.
    const contact = program.types.get('contact');
    inOneGo(steps);
    expect([program.types.get('contact') === contact, [...looked].sort()]).toEqual([true, ['contact', 'deal']]);
    const deal = program.types.get('deal');
    const again = recompileProgram(program, { ...book, rules: [...book.rules] });
    inOneGo(again.prepareTypes(['deal', 'contact']));
    expect([again.types.get('deal'), again.types.get('contact')]).toEqual([deal, contact]);
    expect(again.types.get('deal')).toBe(deal);
  });

  it('again: a type of which nothing changed stays, one of which something did does not', () => {
    const { book } = watched();
    const before = compileProgram(book);
    const [customer, deal] = [before.types.get('customer'), before.types.get('deal')];
    const changed = book.rules.map((r) => (r.recordType === 'deal' ? { ...r, position: r.position + 1 } : r));
    const after = recompileProgram(before, { ...book, rules: changed });
    expect(after.types.get('customer')).toBe(customer);
    expect(after.types.get('deal')).not.toBe(deal);
  });
});

it('readers are told with what they read, along one link or several, in both directions', () => {
  const { readers } = compileProgram(dealBook(Object.values(rules).filter((r) => r.recordType !== 'alone')));
  const told = (key: string) =>
    readers.get(key)!.map(({ owner, reads }) => `${owner}: ${reads.map((r) => `${r.route.length} ${r.field}`).join()}`);
  expect(Object.fromEntries([...readers.keys()].map((key) => [key, told(key)]))).toEqual({
    area: ['contact: 2 name'],
    customer: ['contact: 1 area', 'deal: 1 name'],
    deal: ['customer: 1 ,1 amount'],
    contact: [],
  });
});

it('rules by field: who writes it, asks something of it, reads it; and those about no field', () => {
  const about = [
    ruleOf('deal', 'derive', setTo('title', 'Customer.Name + string(Amount)')),
    ruleOf('deal', 'validate', {
      checks: [
        { hold: 'must', formula: 'Amount > 0 and Title != ""', message: 'An amount is needed.', field: 'amount' },
      ],
    }),
    ruleOf(
      'deal',
      'derive',
      { steps: [] },
      { notify: [{ channel: 'email', to: '"a@b.example"', subject: '{Amount}', body: 'x' }] },
    ),
  ];
  const type = compileProgram(dealBook(about)).types.get('deal')!;
  const { elsewhere } = rulesByField(type);
  const names = (rules: readonly { rule: Rule }[]) => rules.map((r) => about.findIndex((a) => a.key === r.rule.key));
  const of = (key: string) => Object.values(rulesOfField(type, key)).map(names);
  expect({ title: of('title'), amount: of('amount'), stage: of('stage'), none: of('none') }).toEqual({
    title: [[0], [0], [1]],
    amount: [[], [1], [0, 1, 2]],
    stage: [[], [], []],
    none: [[], [], []],
  });
  expect(names(elsewhere)).toEqual([2]);
});

it('rules by field: those of other record types that write it from their records, or read or tell it along a link', () => {
  const title = ruleOf('deal', 'derive', setTo('title', 'Customer.Name'));
  const told = { channel: 'email', to: '"a@b.example"', subject: '{Customer.Phone}', body: 'x' } as const;
  const tells = ruleOf('deal', 'derive', { steps: [] }, { notify: [told] });
  const given = mapOf('customer', pairsOf('Name', ['A', 'B']), [outputOf('title')], 'Deals');
  const { types } = compileProgram(dealBook([title, tells, given]));
  const of = (type: string, field: string, among?: Iterable<TypeProgram>) => {
    const { writers, readers } = rulesOfField(types.get(type)!, field, among);
    return [writers, readers].map((list) => list.map((r) => r.rule.key));
  };
  expect([of('customer', 'name', types.values()), of('customer', 'name')]).toEqual([
    [[], [given.key, title.key]],
    [[], [given.key]],
  ]);
  expect(of('customer', 'phone', types.values())).toEqual([[], [tells.key]]);
  expect(of('deal', 'title', types.values())).toEqual([[title.key, given.key], []]);
});

it.each(['Terms', 'R&D spend', 'Terms and conditions', 'Price/unit', 'Pre-tax', "Owner's note", 'No. in stock'])(
  'what is named %s is known wherever formulas name it: of the record, of another, of each of a list, in a filter, of a table',
  (name) => {
    const of = (type: RecordType): RecordType => ({
      ...type,
      fields: [...type.fields, { key: 'special', name, type: 'number', scale: 0 }],
    });
    const formulas: readonly (readonly [string, string])[] = [
      ['deal', `${name} + 1`],
      ['deal', `Customer.${name} + ${name}`],
      ['customer', `sum(Deals.${name})`],
      ['customer', `sum(Deals[${name} > 2].${name})`],
      ['customer', `sum(for d in Deals return d.${name})`],
      ['customer', `Country table[Country = "Spain"].${name}[1]`],
    ];
    const named = formulas.map(([type, formula]) => ruleOf(type, 'derive', setTo('special', formula)));
    const outputs = [...countryTable.outputs, { key: 'special', name, type: 'number' as const }];
    const more = { recordTypes: dealTypes.map(of), tables: [{ ...countryTable, outputs }] };
    const { types } = compileProgram(dealBook(named, more));
    const told = [...types.values()].flatMap((t) =>
      t.rules.flatMap((r) => r.diagnostics.filter((d) => d.severity === 'error').map((d) => d.message)),
    );
    expect(told).toEqual([]);
  },
);

describe('what a host needs for a rulebook', () => {
  const named = ruleOf('customer', 'derive', setTo('name', 'phone(Phone, "PT")'));
  const cells = {
    ...countryTable,
    rows: [...countryTable.rows, { country: { tests: 'matches(?, "^A")' }, region: 'South' }],
  };
  const claim = { key: 'c', name: 'C', recordType: 'customer', condition: 'matches(Name,\n "x")' };
  it.each<[string, Partial<Rulebook>, readonly string[]]>([
    ['nothing', {}, []],
    ['phone numbers of a rule', { rules: [named] }, ['phone']],
    ['patterns of a cell', { tables: [cells] }, ['pattern']],
    ['patterns of a claim', { claims: [claim] }, ['pattern']],
    ['each once', { rules: [named, named], tables: [cells], claims: [claim] }, ['phone', 'pattern']],
  ])('%s', (_, more, needs) => {
    expect([...hostNeeds(dealBook([], more))]).toEqual(needs);
    expect([...hostNeeds(dealBook([], more))]).toEqual(needs);
  });

  it('and of a store: by which fields records are found, as far as there are such', () => {
    const ways = [
      ['name', 'folded'],
      ['gone', 'exact'],
    ].map(([field, mode]) => ({ field, mode, formula: 'Firm as given' }));
    const sought = ['customer', 'nobody'].map((recordType) =>
      mapOf('contact', { by: 'match', recordType, ways }, [outputOf('customer')]),
    );
    const unique = dealTypes.map((t) => ({
      ...t,
      fields: t.fields.map((f) => (f.key === 'email' ? { ...f, unique: true } : f)),
    }));
    const work = searchesInSteps(dealBook([...sought, named], { recordTypes: unique }));
    let step = work.next();
    while (!step.done) step = work.next();
    const found = step.value;
    expect(found.map((s) => `${s.recordType}.${s.field} ${s.mode}`)).toEqual([
      'customer.area exact',
      'contact.customer exact',
      'contact.email exact',
      'deal.customer exact',
      'customer.name folded',
    ]);
  });

  it('forms are one kind of entry point, each other one is its own, and none is made up', () => {
    expect(['form:full', 'api'].map(entryPointClass)).toEqual(['form', 'api']);
    expect(() => entryPointClass('nowhere')).toThrow('There is no entry point nowhere.');
  });
});

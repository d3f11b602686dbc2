/** What a release would do is what a save does: the three ways differ as saves do. */
import { plainWriting } from '../language/types/writing.ts';
import { expect, it } from 'vitest';
import { compileProgram } from '../compile/program.ts';
import { settleAndPropagate } from '../related/propagation.ts';
import { RecordsSource } from '../records/record-source.ts';
import type { Program } from '../compile/compiled.ts';
import type { Rule, Stored } from '../document/document.ts';
import { customerType, rulebookOf, sizeClass } from '../testing/customers.ts';
import { dealBook, dealRecords, dealTypes, mapOf, outputOf, pairsOf, ruleOf, setTo } from '../testing/deals.ts';
import { Impact, impactWrite } from './dry-run.ts';
import { impactWays, moving, sumOfFigures } from './impact-figures.ts';
import { commonTrait } from './traits.ts';
import { changedRules, findWitnesses } from './witnesses.ts';
import { inOneGo } from '../values/steps.ts';

const now = '2026-05-03T09:00:00+01:00';
const deal = dealTypes.find((t) => t.key === 'deal')!;
const deals = dealRecords.filter((r) => r.recordType === 'deal');
const world = new RecordsSource(dealRecords);
const figures = (live: readonly Rule[], draft: readonly Rule[]) =>
  impactWays.map((way) => {
    const impact = new Impact(deal, compileProgram(dealBook(live)), compileProgram(dealBook(draft)), way, world, now);
    for (const record of deals) impact.add(record);
    const { changed, newlyBlank, newlyStopped, noLongerStopped, fields } = impact.figures();
    return [changed, newlyBlank, newlyStopped, noLongerStopped, fields.map((f) => [f.field, f.records])];
  });

const cost = ruleOf('deal', 'derive', setTo('cost', 'Amount * 2'));
const clears = ruleOf('deal', 'derive', setTo('stage', 'if Amount = null then null else Stage'));
const check = ruleOf('deal', 'validate', {
  checks: [{ hold: 'must', formula: 'Amount != null', message: 'No amount.', field: 'amount' }],
});

it.each<[string, Rule[], Rule[], unknown[]]>([
  [
    'nothing',
    [cost],
    [cost],
    [
      [0, 0, 0, 0, []],
      [0, 0, 0, 0, []],
      [0, 0, 0, 0, []],
    ],
  ],
  // Of three deals two have an amount; a stored record moves when something wakes the rule, or a backfill names it.
  [
    'a derived value',
    [],
    [cost],
    [
      [0, 0, 0, 0, []],
      [2, 0, 0, 0, [['Cost', 2]]],
      [2, 0, 0, 0, [['Cost', 2]]],
    ],
  ],
  [
    'a value that goes',
    [],
    [clears],
    [
      [0, 0, 0, 0, []],
      [1, 1, 0, 0, [['Stage', 1]]],
      [1, 1, 0, 0, [['Stage', 1]]],
    ],
  ],
  // A backfill only warns of what failed before.
  [
    'a check',
    [],
    [check],
    [
      [0, 0, 1, 0, []],
      [0, 0, 1, 0, []],
      [0, 0, 0, 0, []],
    ],
  ],
  [
    'a check that goes',
    [check],
    [],
    [
      [0, 0, 0, 1, []],
      [0, 0, 0, 1, []],
      [0, 0, 0, 0, []],
    ],
  ],
])('%s: at the next save, as new, by a backfill', (_, live, draft, expected) => {
  expect(figures(live, draft)).toEqual(expected);
});

it('what is told newly stopped is what a save refuses', () => {
  const program = compileProgram(dealBook([check]));
  const refused = deals.filter(
    ({ id, data }) =>
      settleAndPropagate(
        program,
        {
          recordType: 'deal',
          id,
          before: { data, held: [] },
          sent: {},
          typed: [],
          moment: 'updating',
          entryPoint: 'form:full',
          now,
        },
        world,
      ).settlement.verdict !== 'saved',
  );
  expect(refused).toHaveLength(figures([], [check])[0]![2] as number);
});

const customers = Array.from({ length: 40 }, (_, i) => ({
  id: String(i + 1),
  data: { name: `C ${i}`, count: i * 10, class: i % 4 === 0 ? null : i < 20 ? 'small' : 'large' },
}));
const run = (from: number, to: number, before: Program | 'stored' = sizes(250)): Impact => {
  const impact = new Impact(customerType, before, sizes(200), 'backfill', new RecordsSource([]), now);
  for (const c of customers.slice(from, to)) impact.add(c);
  return impact;
};
const sizes = (large: number): Program =>
  compileProgram(
    rulebookOf({
      ...sizeClass,
      entryPoints: [...sizeClass.entryPoints, 'backfill'],
      outcome: {
        ...(sizeClass.outcome as object),
        bands: [
          { from: 0, to: 50, result: 'small' },
          { from: 50, to: large, result: 'medium' },
          { from: large, result: 'large' },
        ],
      },
    }),
  );

it('moves, what stays, who writes it, and what those that move have in common', () => {
  const impact = run(0, 40);
  const { fields, writers, changed } = impact.figures();
  expect(fields[0]).toMatchObject({ key: 'class', records: 5, moves: [{ from: 'Medium', to: 'Large', records: 5 }] });
  expect(fields[0]!.stays?.reduce((n, s) => n + s.records, 0)).toBe(35);
  expect([changed, writers]).toEqual([5, [{ text: sizeClass.name, records: 5 }]]);
  const moved = impact.movedRecords('class', 'Medium', 'Large');
  expect(impact.look(customers[moved[0]!]!, 'class')).toMatchObject({
    before: 'medium',
    after: 'large',
    by: sizeClass.name,
  });
  expect(commonTrait(customerType, customers, new Set(moved), plainWriting)).toBe('all have Employee count 200 to 240');
});

it('against what is stored: what the rules would put right', () => {
  const { fields } = run(0, 40, 'stored').figures();
  expect(fields[0]!.moves.find((m) => m.from === 'blank')!.records).toBeGreaterThan(0);
});

it('a value that is called blank is told apart from none', () => {
  const named = (to: string | null) =>
    compileProgram(dealBook([ruleOf('deal', 'derive', setTo('title', JSON.stringify(to)))]));
  const impact = new Impact(deal, named(null), named('blank'), 'backfill', world, now);
  for (const record of deals) impact.add(record);
  expect(impact.figures().fields.flatMap((f) => f.moves)).toEqual([
    { from: 'blank', to: '“blank”', records: deals.length },
  ]);
});

it.each([0, 1, 5, 23, 39, 40])('figures of two heaps together are those of the whole, cut after %i', (cut) => {
  const order = (f: ReturnType<typeof sumOfFigures>) => ({
    ...f,
    fields: f.fields.map(({ stays, ...rest }) => ({
      ...rest,
      stays: [...(stays ?? [])].sort((x, y) => (x.value < y.value ? -1 : 1)),
    })),
  });
  const heaps = [run(0, cut).share(), run(cut, 40).share()];
  expect(order(moving(sumOfFigures(heaps)))).toEqual(order(run(0, 40).figures()));
});

it('nothing sets records apart that are like the others', () => {
  const records = customers.map((c) => ({ id: c.id, data: { kind: 'orchard' } }));
  expect(commonTrait(customerType, records, new Set([1, 2, 3]), plainWriting)).toBeUndefined();
});

it.each<[string, readonly Record<string, Stored>[], readonly number[], string | undefined]>([
  ['nobody', [{ kind: 'orchard' }], [], undefined],
  ['everybody', [{ kind: 'orchard' }], [0], undefined],
  ['one number', [{ count: 5 }, { count: 5 }, { count: 6 }], [0, 1], 'all have Employee count 5'],
  ['blank', [{ kind: null }, { kind: 'orchard' }], [0], 'all have Kind blank'],
  [
    'nearly all of one option',
    [
      ...Array.from({ length: 19 }, () => ({ kind: 'orchard' })),
      {},
      ...Array.from({ length: 20 }, () => ({ kind: 'vineyard' })),
    ],
    Array.from({ length: 20 }, (_, i) => i),
    'nearly all have Kind Orchard',
  ],
  [
    'the clearer of two',
    [
      { count: 5, kind: 'orchard' },
      { count: 6, kind: 'orchard' },
      ...Array.from({ length: 30 }, (_, i) => ({ count: i === 0 ? 5 : 90 + i, kind: 'vineyard' })),
    ],
    [0, 1],
    'all have Kind Orchard',
  ],
])('what sets %s apart', (_, records, inside, words) => {
  const found = records.map((data, i) => ({ id: String(i), data }));
  expect(commonTrait(customerType, found, new Set(inside), plainWriting)).toBe(words);
});

it('rules are changed by themselves and by tables that they read; those that are gone as well', () => {
  const book = dealBook([
    mapOf('deal', { by: 'table', table: 'countries', keys: { country: 'Title' } }, [outputOf('kind', 'region')]),
  ]);
  const p = compileProgram(book);
  const other = compileProgram({ ...book, tables: book.tables!.map((t) => ({ ...t, rows: t.rows.slice(1) })) });
  const none = compileProgram({ ...book, rules: [] });
  const key = book.rules[0]!.key;
  expect([p, other, none, compileProgram({ ...book, tables: [] })].map((after) => [...changedRules(p, after)])).toEqual(
    [[], [key], [key], [key]],
  );
  // Of a record type that only one has nothing is made up.
  const without = compileProgram({ ...book, recordTypes: book.recordTypes.filter((t) => t.key !== 'deal') });
  expect(inOneGo(findWitnesses(p, without))).toEqual([]);
});

it('witnesses show a difference that no sample shows, and none where there is none', () => {
  const witnesses = [...inOneGo(findWitnesses(sizes(250), sizes(200)))];
  expect(witnesses.map((w) => w.text)).toEqual(['Size class is Large, was Medium']);
  expect(inOneGo(findWitnesses(sizes(200), sizes(200)))).toEqual([]);
  expect([...changedRules(sizes(250), sizes(200))]).toEqual(['size-class']);
});

const asks = (outcome: object, more: Partial<Rule> = {}): Rule => ruleOf('deal', 'validate', outcome, more);
const plan = 'Deal kind = "Plan"';
const limitTo = (...allowed: readonly string[]): Rule => {
  const grid = [{ value: 'Plan', allowed }];
  return asks({ limits: [{ field: 'stage', source: 'Deal kind', grid, otherwise: 'stop', message: '' }] });
};
const told = (subject: string): Rule =>
  asks({}, { condition: plan, notify: [{ channel: 'email', to: '"a@b.example"', subject, body: 'B' }] });
const must = (message: string): Rule =>
  asks({ checks: [{ hold: 'should', formula: 'Amount < 5', message, field: '' }] });
const titled = (text: string): Rule => ruleOf('deal', 'derive', setTo('title', text));

it.each<[string, Rule, Rule | undefined, RegExp]>([
  ['values', titled('"a"'), titled('"b"'), /^Title is b, was (a|blank)$/],
  ['messages', must('Mind.'), must('Look.'), /^It says “Look\.”, said (“Mind\.”|nothing)$/],
  ['a field that is hidden', asks({ hidden: ['cost'] }), undefined, /^Cost is on show$/],
  ['or locked', asks({ locked: ['cost'] }), asks({ hidden: ['cost'] }), /^Cost is (not locked|hidden)$/],
  ['options', limitTo('Won'), limitTo('Won', 'Enquiry'), /^Stage takes only Won, Enquiry; before: takes only Won$/],
  ['who is told what', told('A'), told('B'), /^It tells “a@b\.example: B”, told (“a@b\.example: A”|nothing)$/],
  [
    'a field that may stay blank',
    asks({ required: ['kind'] }),
    asks({ required: ['title'] }),
    /^Title has to be filled in$|^It is/,
  ],
  [
    'values for other records',
    mapOf('deal', pairsOf('Deal kind', ['Plan', 'A']), [outputOf('postcode')], 'customer'),
    mapOf('deal', pairsOf('Deal kind', ['Plan', 'B']), [outputOf('postcode')], 'customer'),
    /^It gives “Customer, Postcode: B”, gave “Customer, Postcode: A”$/,
  ],
  ['that it is refused', must('Mind.'), { ...check, condition: plan }, /^It is stopped, was saved: No amount\.$/],
])('witnesses tell apart what forms and people see: %s', (_, before, after, text) => {
  const one = (rule: Rule | undefined) => compileProgram(dealBook(rule ? [{ ...rule, key: 'r' }] : []));
  const witnesses = inOneGo(findWitnesses(one(before), one(after)));
  expect(witnesses.map((w) => w.text)).toContainEqual(expect.stringMatching(text));
});

it('what a save newly says and does on forms is counted, record by record', () => {
  const stops = ruleOf('deal', 'validate', {
    checks: [{ hold: 'must', formula: 'Amount < 500', message: 'Too much.', field: 'amount' }],
    required: ['kind'],
    hidden: ['cost'],
  });
  const tells = ruleOf('deal', 'default', { target: 'discount', value: '0.1' }, { notify: told('A').notify! });
  const chases = [
    ruleOf('deal', 'derive', setTo('cost', 'Amount + 1')),
    ruleOf('deal', 'derive', setTo('amount', 'Cost + 1')),
  ];
  const count = (live: readonly Rule[], draft: readonly Rule[]) => {
    const impact = new Impact(
      deal,
      compileProgram(dealBook(live)),
      compileProgram(dealBook(draft)),
      'as new',
      world,
      now,
    );
    for (const record of deals) impact.add(record);
    return impact;
  };
  const stopped = count([], [stops, tells]);
  const { messages, onForm, notices, writers } = stopped.figures();
  expect([messages, onForm, notices, writers]).toEqual([
    [
      { text: 'Deal kind has to be filled in.', records: 3 },
      { text: 'Too much.', records: 1 },
    ],
    [
      { text: 'Cost now hidden', records: 3 },
      { text: 'Deal kind now required', records: 3 },
    ],
    [{ text: tells.name, records: 3 }],
    [],
  ]);
  expect(stopped.stoppedRecords('Too much.').map((at) => deals[at]!.id)).toEqual(['23']);
  expect(count([tells], []).figures().notices).toEqual([{ text: tells.name, records: -3 }]);
  const heaps = (cut: number) =>
    [deals.slice(0, cut), deals.slice(cut)].map((own) => {
      const [live, draft] = [[cost], [stops, tells]].map((rules) => compileProgram(dealBook(rules)));
      const impact = new Impact(deal, live!, draft!, 'next save', world, now);
      for (const record of own) impact.add(record);
      return impact.share();
    });
  for (let cut = 1; cut <= deals.length; cut++)
    expect(moving(sumOfFigures(heaps(cut)))).toEqual(moving(sumOfFigures([heaps(0)[1]!])));
  expect(sumOfFigures([])).toMatchObject({ tried: 0, fields: [] });
  const failing = count([], chases);
  expect(failing.figures()).toMatchObject({ failing: 2, newlyStopped: 0, changed: 0 });
  expect(failing.movedRecords('cost', 'a', 'b')).toEqual([]);
  expect(failing.look(deals[1]!, 'cost')).toEqual({ id: '22', data: deals[1]!.data, before: null, after: null });
});

it('a record type without a form, or that is not there, meets no release', () => {
  const bare = { ...dealBook([]), recordTypes: dealTypes.map((t) => ({ ...t, forms: [] })) };
  expect(impactWrite(compileProgram(bare), 'deal', deals[0]!, 'next save', now)).toBeUndefined();
  expect(impactWrite(compileProgram(dealBook([])), 'gone', deals[0]!, 'next save', now)).toBeUndefined();
});

/** What a release page says of each kind of change. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fieldTypes } from '../language/field-types/index.ts';
import type { Field, MappingTable, Rule, Rulebook, RuleTest } from '../document/document.ts';
import { compileProgram } from '../compile/program.ts';
import { mutantsOfRule, mutantsOfTable } from '../rule-tests/mutants.ts';
import { countryTable, dealBook, dealTypes, ruleOf, setTo } from '../testing/deals.ts';
import { fromParts, partId, partKinds, toParts } from '../document/parts.ts';
import { applyPatch, pointer } from '../document/patch.ts';
import { runsOf } from '../testing/runs.ts';
import { diffRulebooks } from './diff.ts';

const rule = ruleOf('deal', 'derive', setTo('title', 'Customer.Name'), { name: 'Title of a deal' });
const test: RuleTest = {
  key: 't',
  name: 'One',
  recordType: 'deal',
  entryPoint: 'api',
  moment: 'creating',
  now: '2026-05-03T09:00:00Z',
  before: null,
  sent: { amount: 1 },
  expect: {},
};
const book: Rulebook = dealBook([rule], { tests: [test] });

const withRule = (more: Partial<Rule>): Rulebook => ({ ...book, rules: [{ ...rule, ...more }] });
const withTest = (more: Partial<RuleTest>): Rulebook => ({ ...book, tests: [{ ...test, ...more }] });
const withTable = (more: Partial<MappingTable>): Rulebook => ({ ...book, tables: [{ ...countryTable, ...more }] });
const withField = (type: string, key: string, change: (field: Field) => Field | undefined): Rulebook => ({
  ...book,
  recordTypes: dealTypes.map((t) =>
    t.key === type ? { ...t, fields: t.fields.flatMap((f) => (f.key === key ? (change(f) ?? []) : [f])) } : t,
  ),
});
const rows = countryTable.rows;
const options = (change: (list: NonNullable<Field['options']>) => NonNullable<Field['options']>): Rulebook =>
  withField('customer', 'country', (f) => ({ ...f, options: change(f.options!) }));

describe('a change in words', () => {
  it.each<[string, Rulebook, readonly string[]]>([
    ['of a name', withRule({ name: 'Title' }), ['name Title of a deal → Title']],
    ['of a purpose', withRule({ purpose: 'Another' }), ['purpose reworded, no record changes: Another']],
    ['of a switch', withRule({ on: false }), ['switched off']],
    ['of a place', withRule({ position: 4711 }), ['order: placed first']],
    ['of a record type', withRule({ recordType: 'contact' }), ['record type Deal → Contact']],
    ['of a winner', withRule({ winner: 'locked' }), ['if someone entered a value: the rule replaces it → locked']],
    ['of what wakes', withRule({ wakesOn: ['stage', 'gone'] }), ['wakes on what it reads → Stage, gone']],
    ['of a condition', withRule({ condition: 'Amount > 5' }), ['only if none → Amount is above 5']],
    [
      'of notices',
      withRule({ notify: [{ channel: 'email', to: '"a@b.example"', subject: 'New', body: '' }] }),
      ['now an email goes to "a@b.example": “New”'],
    ],
    ['of a type', withField('customer', 'currency', (f) => ({ ...f, type: 'email' })), ['type text → email']],
    [
      'of shared options',
      withField('customer', 'currency', (f) => ({ ...f, optionsOf: 'country' })),
      ['options shared with none → Home country'],
    ],
    [
      'of a title',
      {
        ...book,
        recordTypes: dealTypes.map((t) => (t.key === 'customer' ? { ...t, title: ['name', 'postcode'] } : t)),
      },
      ['title of a record Name → Name, Postcode'],
    ],
    [
      'of what a record is called',
      { ...book, recordTypes: dealTypes.map((t) => (t.key === 'area' ? { ...t, forms: [], name: 'Zone' } : t)) },
      ['name Service area → Zone', 'forms without full form', 'forms without short form'],
    ],
    [
      'of who signs in',
      { ...book, userRecordType: 'customer' },
      ['record type of the people who sign in Contact → Customer'],
    ],
    ['of the zone', { ...book, zone: 'UTC' }, ['time zone Europe/Lisbon → UTC']],
    [
      'of accepted findings',
      { ...book, accepted: [{ finding: `no-purpose rule:${rule.key}`, reason: 'y' }] },
      ['accepted findings with Title of a deal: reason y'],
    ],
    ['of a linked field', withField('deal', 'customer', () => undefined), ['lookup of Deals: a customer']],
    ['of a field with options', withField('deal', 'kind', () => undefined), ['picklist of Deals: Install, Plan']],
    ['of a limit', withField('customer', 'currency', (f) => ({ ...f, length: 5 })), ['most characters 3 → 5']],
    ['of a demand', withField('customer', 'name', (f) => ({ ...f, required: true })), ['required no → yes']],
    [
      'of what is linked',
      withField('deal', 'customer', (f) => ({ ...f, recordType: 'area' })),
      ['links to Customer → Service area'],
    ],
    ['of options that come', options((o) => [...o, { key: 'peru', name: 'Peru' }]), ['options added: Peru']],
    ['of options that go', options((o) => o.slice(0, -2)), ['options removed: Norway, Chile']],
    ['of an option’s name', options((o) => o.with(1, { ...o[1]!, name: 'España' })), ['option Spain → España']],
    ['of the order of options', options((o) => o.toReversed()), ['order of the options']],
    ['of a mark', options((o) => o.with(0, { ...o[0]!, outside: true })), ['outside of Portugal of options no → yes']],
    [
      'of rows',
      withTable({ rows: [{ ...rows[0]!, region: null }, rows[1]!, { country: 'Chile' }] }),
      [
        'row added, Chile',
        'row removed, Norway: Table region North, Table currency NOK',
        'Table region of Portugal South → blank',
      ],
    ],
    [
      'of the key of a row',
      withTable({ rows: [rows[0]!, { ...rows[1]!, country: 'Chile', currency: 'CLP' }, rows[2]!] }),
      ['row Spain → Chile', 'Table currency of Chile EUR → CLP'],
    ],
    [
      'of the order of rows beside others',
      withTable({ rows: [rows[1]!, rows[0]!, { ...rows[2]!, currency: 'DKK' }] }),
      ['Table currency of Norway NOK → DKK', 'order of the rows'],
    ],
    [
      'of a kind',
      withRule({ kind: 'default', outcome: { target: 'title', value: '"x"' } }),
      [
        'acts at every moment → editing, creating and updating',
        'kind Derive → Default',
        'what it does Title becomes Customer.Name. → Title starts as x.',
      ],
    ],
    [
      'of a kind that there is not',
      withRule({ kind: 'guess' }),
      ['kind Derive → guess', 'what it does Title becomes Customer.Name. → none'],
    ],
    [
      'of a type that there is not',
      withField('customer', 'currency', (f) => ({ ...f, type: 'smell' })),
      ['type text → smell'],
    ],
    [
      'of a whole column',
      withTable({ outputs: countryTable.outputs.slice(1) }),
      ['columns to give without Table region'],
    ],
    ['of the order of rows', withTable({ rows: rows.toReversed() }), ['order of the rows']],
    [
      'of very many rows',
      withTable({ rows: [...rows, ...Array.from({ length: 12 }, (_, i) => ({ country: `C${i}` }))] }),
      Array.from({ length: 12 }, (_, i) => `row added, C${i}`),
    ],
    [
      'of many rows with the same key',
      withTable({ rows: [...rows, ...Array.from({ length: 22 }, () => rows[0]!)] }),
      [
        ...Array.from({ length: 22 }, (_, i) => {
          const nth = ['2nd', '3rd', '21st', '22nd', '23rd'].find((o) => parseInt(o, 10) === i + 2) ?? `${i + 2}th`;
          return `row added, Portugal (${nth}): Table region South, Table currency EUR, Usual crops Olive, Grape`;
        }),
      ],
    ],
    [
      'of one of two rows with the same key',
      withTable({ rows: [{ ...rows[0]!, currency: 'PTE' }, rows[0]!, rows[1]!, rows[2]!] }),
      [
        'row added, Portugal (2nd): Table region South, Table currency EUR, Usual crops Olive, Grape',
        'Table currency of Portugal EUR → PTE',
      ],
    ],
    [
      'of a policy',
      withTable({ hitPolicy: 'first', keepers: ['a@b.example'] }),
      ['hit policy unique → first', 'keepers none → a@b.example'],
    ],
    [
      'of columns',
      withTable({ keys: [{ ...countryTable.keys[0]!, match: 'prefix' }] }),
      ['match of Country of columns to look up by none → prefix'],
    ],
    ['of a test', withTest({ sent: { amount: 2 }, name: 'Two' }), ['name One → Two', 'sent Amount 1 → 2']],
    [
      'of the cases of a test',
      withTest({ family: { entryPoints: ['api', 'import'] } }),
      ['through API → API and file import'],
    ],
    ['of as many cases', withTest({ family: { entryPoints: ['api'] } }), ['family none → entryPoints api']],
    ['of a record type that there is not', withRule({ recordType: 'gone' }), ['record type Deal → gone']],
    [
      'of a field of a type that there is not',
      {
        ...book,
        recordTypes: dealTypes.map((t) =>
          t.key === 'area' ? { ...t, fields: [...t.fields, { key: 'odour', name: 'Odour', type: 'smell' }] } : t,
        ),
      },
      ['smell of Service areas'],
    ],
    [
      'of people who are no record type any more',
      { ...book, userRecordType: 'gone' },
      ['record type of the people who sign in Contact → gone'],
    ],
    [
      'of a title by a field that is gone',
      { ...book, recordTypes: dealTypes.map((t) => (t.key === 'area' ? { ...t, title: ['gone'] } : t)) },
      ['title of a record Name → gone'],
    ],
    ['of how often it acts', withRule({ repeat: 'every' }), ['repeat whenever it wakes → every write']],
  ])('%s', (_, after, phrases) => {
    const found = diffRulebooks(book, after);
    expect(found.map((c) => c.phrases)).toEqual([phrases]);
    expect(diffRulebooks(after, book)).toHaveLength(1);
  });
});

it.each<[string, Partial<Rulebook>, Partial<Rulebook>, readonly string[]]>([
  [
    'as many cases, but others',
    { tests: [{ ...test, family: { entryPoints: ['api', 'import'] } }] },
    { tests: [{ ...test, family: { entryPoints: ['import', 'api'] } }] },
    ['through API and file import → file import and API'],
  ],
  [
    'what is sent, and a case that comes',
    { tests: [{ ...test, sent: { amount: 1 } }] },
    {
      tests: [
        {
          ...test,
          sent: { cost: 1 },
          family: { cases: { sent: ['amount'], expected: ['stage'], rows: [[5, 'won']] } },
        },
      ],
    },
    ['now sent Cost 1', 'now with Amount 5, expected Stage Won', 'no longer sent Amount 1'],
  ],
  [
    'its place among the rules of its type, beside another',
    {
      rules: [
        rule,
        { ...rule, key: 'r2', name: 'Second', position: 2 },
        { ...rule, key: 'r3', name: 'Third', position: 3 },
      ],
    },
    {
      rules: [
        { ...rule, on: false, position: 2.5 },
        { ...rule, key: 'r2', name: 'Second', position: 2 },
        { ...rule, key: 'r3', name: 'Third', position: 3 },
      ],
    },
    ['switched off', 'order: placed after Second'],
  ],
  [
    'the text of a notice',
    { rules: [{ ...rule, notify: [{ channel: 'email', to: '"a@b.example"', subject: 'New', body: 'One' }] }] },
    { rules: [{ ...rule, notify: [{ channel: 'email', to: '"a@b.example"', subject: 'New', body: 'Two' }] }] },
    ['text of “New” One → Two'],
  ],
  [
    'a notice that goes',
    { rules: [{ ...rule, notify: [{ channel: 'email', to: '"a@b.example"', subject: 'New', body: '' }] }] },
    { rules: [{ ...rule, notify: [] }] },
    ['no longer an email goes to "a@b.example": “New”'],
  ],
  [
    'a yes or no of a record type',
    { recordTypes: [{ ...dealTypes[0]!, hidden: true } as never] },
    { recordTypes: [{ ...dealTypes[0]!, hidden: false } as never] },
    ['hidden yes → no'],
  ],
  [
    'what holds more than values',
    { recordTypes: [{ ...dealTypes[0]!, shown: { a: 1 } } as never] },
    { recordTypes: [{ ...dealTypes[0]!, shown: { a: 2 } } as never] },
    ['a of shown 1 → 2'],
  ],
])('a change of %s', (_, before, after, phrases) => {
  expect(diffRulebooks({ ...book, ...before }, { ...book, ...after }).map((c) => c.phrases)).toEqual([phrases]);
});

const every: readonly Rule[] = [
  ruleOf('customer', 'categorize', {
    source: 'Open deal value',
    target: 'size',
    bands: [
      { from: 0, to: 10, result: 'micro' },
      { from: 10, to: 100, result: 'small' },
      { from: 100, result: 'large' },
    ],
    blank: { do: 'clear' },
    outside: { do: 'message', severity: 'warn', text: 'Too much' },
  }),
  ruleOf(
    'customer',
    'default',
    { target: 'currency', value: '"EUR"' },
    { condition: 'Home country = "Spain" or Open deal value > 3' },
  ),
  ruleOf('deal', 'derive', setTo('cost', 'if Amount > 10 then Amount * 0.5 else Amount + 1')),
  ruleOf('deal', 'validate', {
    checks: [{ hold: 'must', formula: 'Cost <= Amount', message: 'Too dear.', field: 'cost' }],
  }),
  ruleOf('customer', 'map', {
    source: { by: 'table', table: 'countries', keys: { country: 'Home country' } },
    onto: '',
    outputs: [{ value: 'region', target: 'region', way: 'replace' }],
    blank: { do: 'clear' },
    none: { do: 'set', value: 'south' },
    several: { do: 'leave' },
  }),
];

it('whatever a fault changes in a rule or a table is said of that part, and never as its order', () => {
  const whole = dealBook(every);
  const program = compileProgram(whole);
  expect(program.broken.map((r) => r.diagnostics)).toEqual([]);
  const mutants = [...program.types.values()].flatMap((t) => t.rules.flatMap((r) => mutantsOfRule(r, t, whole)));
  const all = [...mutants, ...mutantsOfTable(countryTable, whole, 7)];
  expect(all.length).toBeGreaterThan(60);
  for (const { rulebook, text } of all) {
    const found = diffRulebooks(whole, rulebook);
    expect(found.length, text).toBe(1);
    expect(found[0]!.phrases.length, text).toBeGreaterThan(0);
    expect(found[0]!.phrases[0], text).not.toMatch(/^(order|what it does$)/);
  }
});

describe('whatever is otherwise in a part is told with what it is now', () => {
  const rich = dealBook(
    [
      ...every,
      { ...rule, notify: [{ channel: 'task', to: '"a@b.example"', subject: 'New', body: 'One', dueInDays: 3 }] },
    ],
    {
      claims: [{ key: 'c', name: 'Dear', recordType: 'deal', condition: 'Amount > 5' }],
      samples: [{ key: 's', recordType: 'deal', data: { amount: 3, title: 'Pond' } }],
      accepted: [{ finding: 'gap', reason: 'Meant so.' }],
      tests: [
        {
          ...test,
          before: { data: { cost: 4 }, held: ['cost'] },
          related: [{ key: 'r', recordType: 'customer', data: { name: 'Moor' } }],
          user: { name: 'Ada', email: 'ada@b.example', role: 'keeper', contact: '7' },
          typed: ['amount'],
          woken: [rule.key],
          expect: {
            fields: { title: 'Moor' },
            states: { cost: { required: true } },
            messages: ['Too dear.'],
            notified: ['x@b.example'],
            related: [{ recordType: 'customer', key: 'r', field: 'currency', value: 'EUR' }],
            ran: [rule.key],
            didNotRun: [rule.key],
            verdict: 'saved',
          },
          accepted: [{ rule: rule.key, verdict: 'ran', text: 'Title: Moor' }],
          family: {
            cases: {
              sent: ['amount'],
              expected: ['title'],
              rows: [
                [1, 'Moor'],
                [2, null],
              ],
            },
          },
        },
      ],
    },
  );
  /** Pointers to all that holds no more of its own. */
  const leavesOf = (v: unknown): string[] =>
    typeof v === 'object' && v !== null
      ? Object.entries(v).flatMap(([name, inner]) => leavesOf(inner).map((at) => pointer(name) + at))
      : [''];
  // What names a thing is not what it says.
  const untold = /\/key$/;
  /** A place is told by what stands before it; of a few words the names are told, and another word is none of them. */
  const isOfList = /\/position$|\/(moments|entryPoints)\/\d+$|\/(repeat|winner|channel|by|onto|do)$/;
  const leaves = toParts(rich).flatMap((part) =>
    leavesOf(part.body)
      .filter((at) => !untold.test(at))
      .map((at): readonly [string, string] => [partId(part), at]),
  );

  it('of every kind of part', () => {
    expect(new Set(leaves.map(([id]) => id.split(':')[0]))).toEqual(new Set(partKinds));
    expect(leaves.length).toBeGreaterThan(300);
  });

  const changedLeaf = (body: unknown, at: string): unknown => {
    const was = at
      .split('/')
      .slice(1)
      .reduce((v, name) => (v as Record<string, unknown>)[name], body);
    return typeof was === 'number' ? 4711 : typeof was === 'boolean' ? !was : 'Zebra';
  };
  const missed = (id: string, at: string): string | undefined => {
    const part = toParts(rich).find((p) => partId(p) === id)!;
    const was = at
      .split('/')
      .slice(1)
      .reduce((v, name) => (v as Record<string, unknown>)[name], part.body);
    const now = typeof was === 'number' ? 4711 : typeof was === 'boolean' ? !was : 'Zebra';
    const body = applyPatch(part.body, [{ op: 'replace', path: at, value: now }]).value;
    const after = fromParts(toParts(rich).map((p) => (partId(p) === id ? { ...p, body } : p)));
    const phrases = diffRulebooks(rich, after).flatMap((c) => c.phrases);
    const told = now === true ? /yes|switched on|now/ : now === false ? /no\b|off|without/ : /Zebra|4711|4,711/;
    return phrases.some((p) => isOfList.test(at) || told.test(p)) ? undefined : `${id}${at}: ${phrases.join('; ')}`;
  };

  it('leaf by leaf', () => {
    expect(leaves.flatMap(([id, at]) => missed(id, at) ?? [])).toEqual([]);
  });

  it('and all of it is told of a part that comes', () => {
    const parts = toParts(rich);
    const linesOf = (id: string, body: unknown) => {
      const after = fromParts(parts.map((p) => (partId(p) === id ? { ...p, body } : p)));
      const before = fromParts(parts.filter((p) => partId(p) !== id && !p.key.startsWith(`${id.split(':')[1]!}.`)));
      return diffRulebooks(before, after)
        .find((c) => partId(c.part) === id)!
        .phrases.join('; ');
    };
    const silent = leaves.flatMap(([id, at]) => {
      const { body } = parts.find((p) => partId(p) === id)!;
      // Its name heads it, its place is seen; of what a rule does its sentence tells what matters.
      if (id.startsWith('settings:') || /^\/(name|position|winner|repeat|outcome\/.*)$/.test(at)) return [];
      const other = applyPatch(body, [{ op: 'replace', path: at, value: changedLeaf(body, at) }]).value;
      return linesOf(id, body) === linesOf(id, other) ? [`${id}${at}`] : [];
    });
    expect(silent).toEqual([]);
  });

  it('and a part that comes or goes says what it does', () => {
    const empty = { ...rich, rules: [], tables: [], tests: [], claims: [], samples: [] };
    for (const [before, after] of [
      [empty, rich],
      [rich, empty],
    ] as const)
      expect(diffRulebooks(before, after).filter((c) => c.phrases.length === 0)).toEqual([]);
  });
});

it('tells each of more rows than a function takes arguments', () => {
  const many = (currency: string) => Array.from({ length: 130_000 }, (_, i) => ({ country: `C${i}`, currency }));
  const [change] = diffRulebooks(withTable({ rows: many('EUR') }), withTable({ rows: many('PTE') }));
  expect(change!.phrases).toHaveLength(130_000);
  expect(change!.phrases[129_999]).toBe('Table currency of C129999 EUR → PTE');
});

describe('a test that comes', () => {
  const said = (more: Partial<RuleTest>) =>
    diffRulebooks({ ...book, tests: [] }, withTest({ recordType: 'deal', ...more }))[0]!.phrases;
  const around = 'record type Deal, moment creating, through API, record before none, clock 2026-05-03T09:00:00Z';

  it.each<[string, Partial<RuleTest>, readonly string[]]>([
    [
      'what is sent and expected, options by their names',
      { sent: { amount: 1200, stage: 'won' }, expect: { fields: { cost: null }, messages: [], ran: [rule.key] } },
      ['sent Amount 1,200, Stage Won', 'expected Cost blank, message none, to run Title of a deal', around],
    ],
    [
      'its cases one by one, of two alike both',
      {
        sent: {},
        family: {
          cases: {
            sent: ['amount'],
            expected: ['stage', 'cost'],
            rows: [
              [1, 'won', 2],
              [1, 'won', 3],
            ],
          },
        },
      },
      ['with Amount 1, expected Stage Won, Cost 2', 'with Amount 1, time 2, expected Stage Won, Cost 3', around],
    ],
    [
      'the records around it, and who writes',
      {
        sent: {},
        moment: 'updating',
        before: { data: { stage: 'won' }, held: ['stage'] },
        related: [{ key: '7', recordType: 'customer', data: { name: 'Moor' } }],
        user: { name: 'Ada', email: 'ada@b.example', role: 'keeper' },
      },
      [
        around.replace('creating', 'updating').replace('none', 'there'),
        'before Stage Won, held Stage',
        'customer 7 with Name Moor',
        'written by name Ada, email ada@b.example, role keeper',
      ],
    ],
    ['of a type that there is not', { recordType: 'gone' }, ['sent amount 1', around.replace('Deal', 'gone')]],
  ])('says %s', (_, more, phrases) => {
    expect(said(more)).toEqual(phrases);
  });

  it('is told whatever stands in it', () => {
    const everyType = fieldTypes.map(({ key: type }, i) => ({ key: `f${i}`, name: `F${i}`, type }));
    const recordTypes = dealTypes.map((t) => (t.key === 'deal' ? { ...t, fields: everyType } : t));
    fc.assert(
      fc.property(fc.jsonValue(), (value) => {
        const sent = Object.fromEntries(everyType.map((f) => [f.key, value]));
        const tests = [{ ...test, sent, expect: { fields: sent as never } }];
        const phrases = diffRulebooks({ ...book, recordTypes, tests: [] }, { ...book, recordTypes, tests })[0]!.phrases;
        expect(phrases[0]).toMatch(/^sent F0 /);
      }),
      { numRuns: runsOf(300) },
    );
  });
});

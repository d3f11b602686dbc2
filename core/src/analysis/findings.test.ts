/** Every kind of finding: a rule set that has it, one that has not, and a repair that ends it. */
import { describe, expect, it } from 'vitest';
import { compileProgram } from '../compile/program.ts';
import type { Field, Rule, Rulebook } from '../document/document.ts';
import { applyPatch } from '../document/patch.ts';
import { fromParts, partId, toParts } from '../document/parts.ts';
import { countryTable, dealBook, dealTypes, ruleOf, setTo, pairsOf, mapOf, outputOf } from '../testing/deals.ts';
import type { Finding } from './finding.ts';
import { findingKinds, findingsOf } from './findings.ts';

/** With a second lookup from deals to customers. */
const withDealLookup = (children?: string) =>
  dealTypes.map((t) => {
    const again = { key: 'by', name: 'Referred by', type: 'lookup', recordType: 'customer' } as const;
    return t.key === 'deal' ? { ...t, fields: [...t.fields, { ...again, ...(children ? { children } : {}) }] } : t;
  });
const rule = (kind: string, outcome: unknown, more: Partial<Rule> = {}, type = 'deal'): Rule =>
  ruleOf(type, kind, outcome, { winner: 'locked', ...more });
const bands = (list: readonly object[], more: object = {}): unknown => ({
  source: 'Amount',
  target: 'cost',
  bands: list,
  blank: { do: 'leave' },
  outside: { do: 'clear' },
  ...more,
});
const cuts = [
  { to: 10, result: 1 },
  { from: 10, to: 50, result: 2 },
  { from: 50, result: 3 },
];
const withFields = (type: string, change: (fields: readonly Field[]) => readonly Field[]): Partial<Rulebook> => ({
  recordTypes: dealTypes.map((t) => (t.key === type ? { ...t, fields: change(t.fields) } : t)),
});
const field =
  (key: string, more: Partial<Field>): ((fields: readonly Field[]) => readonly Field[]) =>
  (fields) =>
    fields.map((f) => (f.key === key ? { ...f, ...more } : f));
const table = (rows: readonly object[], more: object = {}): Partial<Rulebook> => ({
  tables: [{ ...countryTable, rows: rows as never, ...more }],
});
/** A table of numbers, and perhaps of options, without a rule. */
const sizes = (rows: readonly object[], more: object = {}): Partial<Rulebook> => ({
  tables: [
    {
      key: 'sizes',
      name: 'Sizes',
      purpose: '',
      hitPolicy: 'unique',
      keys: [
        { key: 'size', name: 'Size', type: 'number' },
        { key: 'stage', name: 'At', field: 'deal.stage' },
      ],
      outputs: [{ key: 'rate', name: 'Rate', type: 'number' }],
      rows: rows as never,
      ...more,
    },
  ],
});
const lookUp = rule(
  'map',
  {
    source: { by: 'table', table: 'countries', keys: { country: 'Home country' } },
    onto: '',
    outputs: [
      { value: 'region', target: 'region' },
      { value: 'currency', target: 'currency' },
      { value: 'crops', target: 'crops' },
    ],
  },
  {},
  'customer',
);
const match = (): Rule =>
  rule(
    'map',
    {
      source: {
        by: 'match',
        recordType: 'customer',
        ways: [{ field: 'name', formula: 'Firm as given', mode: 'folded' }],
      },
      onto: '',
      outputs: [{ value: '', target: 'customer' }],
    },
    {},
    'contact',
  );
const constant = (target: string, condition: string, more: Partial<Rule> = {}): Rule =>
  rule('derive', setTo(target, '1'), { condition, ...more });
const all = [{ country: 'Portugal' }, { country: 'Spain' }, { country: 'Norway' }, { country: 'Chile' }];
const validate = (outcome: object, condition = ''): Rule => rule('validate', outcome, { condition });

type Case = readonly [rules: readonly Rule[], more?: Partial<Rulebook>];

const cases: Readonly<Record<string, readonly [has: Case, hasNot: Case]>> = {
  'does-not-compile': [[[constant('cost', 'Amout > 1')]], [[constant('cost', 'Amount > 1')]]],
  'two-rules-one-field': [
    [[constant('cost', 'Amount > 5'), constant('cost', 'Amount < 9')]],
    [[constant('cost', 'Amount > 9'), constant('cost', 'Amount <= 9')]],
  ],
  'different-winners': [
    [[constant('cost', 'Amount > 9'), constant('cost', 'Amount < 9', { winner: 'person' })]],
    [[constant('cost', 'Amount > 9'), constant('cost', 'Amount < 9')]],
  ],
  'no-winner': [
    [[rule('derive', setTo('cost', 'Amount'), { winner: undefined as never })]],
    [[rule('derive', setTo('cost', 'Amount'))]],
  ],
  'entry-point-hole': [
    [[rule('derive', setTo('cost', 'Amount'), { entryPoints: ['form:full'] })]],
    [[rule('derive', setTo('cost', 'Amount'))]],
  ],
  'reads-its-own-target': [
    [[rule('derive', setTo('cost', 'Cost + Amount'))]],
    [[rule('derive', setTo('cost', 'first filled(Cost, Amount)'))]],
  ],
  'fixed-record': [
    [
      [
        rule('map', {
          source: pairsOf('Stage', ['Won', '12']),
          onto: '',
          outputs: [{ value: '', target: 'customer' }],
        }),
      ],
    ],
    [[match()]],
  ],
  circle: [
    [[rule('derive', setTo('cost', 'Amount')), rule('derive', setTo('amount', 'Cost'))]],
    [[rule('derive', setTo('cost', 'Amount'))]],
  ],
  'never-wakes': [
    [[rule('derive', setTo('signed', 'today()'), { moments: ['updating'] })]],
    [[rule('derive', setTo('signed', 'today()'), { moments: ['creating'] })]],
  ],
  'condition-decides-nothing': [
    [
      [
        constant('cost', 'Amount > 5 and Amount < 5'),
        constant('cost', 'Amount > 5 or not(Amount > 5) or is blank(Amount)'),
      ],
    ],
    [[constant('cost', 'Stage = "Won" and Amount > 5')]],
  ],
  'band-never-reached': [
    [[rule('categorize', bands(cuts), { condition: 'Amount >= 10' })]],
    [[rule('categorize', bands(cuts), { condition: 'Stage = "Won"' })]],
  ],
  'blank-kept-away': [
    [[rule('categorize', bands(cuts, { blank: { do: 'clear' } }), { condition: 'Amount != null' })]],
    [[rule('categorize', bands(cuts, { blank: { do: 'clear' } }), { condition: 'Amount = null or Amount > 3' })]],
  ],
  'previous-of-new': [
    [[rule('derive', setTo('previous', 'previous.Stage'), { moments: ['creating'] })]],
    [[rule('derive', setTo('previous', 'previous.Stage'), { moments: ['creating', 'updating'] })]],
  ],
  'stand-in-value': [
    [[rule('categorize', bands(cuts))], withFields('deal', field('amount', { required: true }))],
    [[rule('categorize', bands(cuts))], withFields('deal', field('amount', { required: true, min: 1 }))],
  ],
  'required-and-shut': [
    [[validate({ required: ['cost'] }, 'Stage = "Won"'), validate({ hidden: ['cost'] }, 'Amount > 3')]],
    [[validate({ required: ['cost'] }, 'Amount > 5'), validate({ hidden: ['cost'] }, 'Amount < 3')]],
  ],
  'match-not-unique': [[[match()]], [[match()], withFields('customer', field('name', { unique: true }))]],
  'look-alike-fields': [
    [[], withFields('deal', (f) => [...f, { key: 'amont', name: 'Amounts', type: 'number' }])],
    [[], withFields('deal', (f) => [...f, { key: 'kit', name: 'Kit', type: 'number' }])],
  ],
  'table-key-twice': [
    [[lookUp], table([...all, { country: 'Spain', region: 'South' }])],
    [[lookUp], table(all)],
  ],
  'table-row-never-reached': [
    [[lookUp], table([{ region: 'South' }, ...all], { hitPolicy: 'first' })],
    [[lookUp], table([...all, { region: 'South' }], { hitPolicy: 'first' })],
  ],
  'option-without-row': [
    [[lookUp], table(all.slice(1))],
    [[lookUp], table(all)],
  ],
  'table-gap': [
    [[], sizes([{ size: { from: 0, to: 9 } }, { size: { from: 12 } }])],
    [[], sizes([{ size: { from: 0, to: 9 } }, { size: { from: 9 } }])],
  ],
  'unused-table': [[[]], [[lookUp], table(all)]],
  'unused-column': [
    [
      [
        {
          ...lookUp,
          key: 'few',
          outcome: { ...(lookUp.outcome as object), outputs: [{ value: 'region', target: 'region' }] },
        },
      ],
      table(all),
    ],
    [[lookUp], table(all)],
  ],
  'list-name-twice': [
    [[], { recordTypes: withDealLookup() }],
    [[], { recordTypes: withDealLookup('Referred deals') }],
  ],
  'unused-field': [
    [
      [],
      { recordTypes: dealTypes.map((t) => ({ ...t, forms: [{ key: 'full', name: 'full form', fields: ['name'] }] })) },
    ],
    [[]],
  ],
  'unused-option': [
    [
      [
        rule(
          'categorize',
          {
            source: 'Open deal value',
            target: 'size',
            bands: [
              { to: 5, result: 'micro' },
              { from: 5, result: 'small' },
            ],
          },
          {},
          'customer',
        ),
      ],
    ],
    [
      [
        rule(
          'categorize',
          {
            source: 'Open deal value',
            target: 'size',
            bands: [
              { to: 5, result: 'micro' },
              { from: 5, to: 9, result: 'small' },
              { from: 9, result: 'large' },
            ],
          },
          {},
          'customer',
        ),
      ],
    ],
  ],
  'no-purpose': [[[constant('cost', 'Amount > 1', { purpose: ' ' })]], [[constant('cost', 'Amount > 1')]]],
  'not-tested': [[[constant('cost', 'Amount > 1')]], [[{ ...constant('cost', 'Amount > 1'), key: 'tried' }]]],
};

const whole = withFields('deal', field('amount', { scale: 0 }));
const toSize = (value: string, winner: Rule['winner'] = 'locked'): Rule =>
  mapOf('deal', pairsOf('Stage', ['Won', value]), [outputOf('size')], 'customer', {}, { winner });
const sizeHere = rule('derive', setTo('size', 'if Open deal value > 5 then "Large" else "Micro"'), {}, 'customer');
const check = validate({ checks: [{ hold: 'must', formula: 'Amount > 1', message: 'Too small.', field: 'amount' }] });
const byTable = (formula: string): Rule => rule('derive', setTo('title', formula), {}, 'customer');

/** Beyond the plainest case of each kind. */
const further: readonly (readonly [kind: string, what: string, has: Case, hasNot: Case])[] = [
  [
    'table-key-twice',
    'ranges that overlap in part',
    [[], sizes([{ size: { from: 0, to: 10 } }, { size: { from: 8, to: 20 } }])],
    [[], sizes([{ size: { from: 0, to: 10 } }, { size: { from: 10, to: 20 } }])],
  ],
  [
    'table-key-twice',
    'a list and a test, in a second column',
    [
      [],
      sizes([
        { size: 1, stage: ['Won', 'Proposal'] },
        { size: { tests: '< 3' }, stage: { tests: 'not("Won")' } },
      ]),
    ],
    [
      [],
      sizes([
        { size: 1, stage: ['Won'] },
        { size: { tests: '< 3' }, stage: { tests: 'not("Won")' } },
      ]),
    ],
  ],
  [
    'table-key-twice',
    'a number within a range',
    [[], sizes([{ size: 5 }, { size: { from: 4, to: 6 } }])],
    [[], sizes([{ size: 6 }, { size: { from: 4, to: 6 } }])],
  ],
  [
    'table-key-twice',
    'lists that have one value in common',
    [
      [],
      sizes([
        { size: 1, stage: ['Won', 'Proposal'] },
        { size: 1, stage: ['Proposal', 'Surveyed'] },
      ]),
    ],
    [
      [],
      sizes([
        { size: 1, stage: ['Won', 'Proposal'] },
        { size: 1, stage: ['Surveyed'] },
      ]),
    ],
  ],
  [
    'table-gap',
    'a pair of keys that no row takes',
    [[], sizes([{ size: { to: 5 }, stage: 'Won' }, { size: { from: 5 } }])],
    [[], sizes([{ size: { to: 5 }, stage: { tests: 'not("x")' } }, { size: { from: 5 } }])],
  ],
  [
    'table-gap',
    'between neighbours of a whole number there is nothing',
    [
      [],
      {
        ...whole,
        ...sizes([{ amount: { from: 0, to: 9, toClosed: true } }, { amount: { from: 11 } }], {
          keys: [{ key: 'amount', name: 'Amount', field: 'deal.amount' }],
        }),
      },
    ],
    [
      [],
      {
        ...whole,
        ...sizes([{ amount: { from: 0, to: 9, toClosed: true } }, { amount: { from: 10 } }], {
          keys: [{ key: 'amount', name: 'Amount', field: 'deal.amount' }],
        }),
      },
    ],
  ],
  [
    'table-row-never-reached',
    'rows before it take it together',
    [[], sizes([{ size: { to: 5 } }, { size: { from: 5 } }, { size: { from: 2, to: 8 } }], { hitPolicy: 'first' })],
    [[], sizes([{ size: { to: 5 } }, { size: { from: 6 } }, { size: { from: 2, to: 8 } }], { hitPolicy: 'first' })],
  ],
  [
    'table-row-never-reached',
    'a list of which the row before takes but a part is still reached by the rest',
    [
      [],
      sizes(
        [
          { size: 1, stage: ['Won', 'Proposal'] },
          { size: 1, stage: ['Proposal', 'Won'] },
        ],
        { hitPolicy: 'first' },
      ),
    ],
    [
      [],
      sizes(
        [
          { size: 1, stage: ['Won', 'Proposal'] },
          { size: 1, stage: ['Proposal', 'Surveyed'] },
        ],
        { hitPolicy: 'first' },
      ),
    ],
  ],
  [
    'table-row-never-reached',
    'a higher priority takes all of it',
    [
      [],
      sizes([{ size: { from: 2, to: 4 }, rate: 2 }, { rate: 1 }], {
        hitPolicy: 'priority',
        outputs: [{ key: 'rate', name: 'Rate', type: 'number', order: [1, 2] }],
      }),
    ],
    [
      [],
      sizes([{ size: { from: 2, to: 4 }, rate: 2 }, { rate: 1 }], {
        hitPolicy: 'priority',
        outputs: [{ key: 'rate', name: 'Rate', type: 'number', order: [2, 1] }],
      }),
    ],
  ],
  ...(['unique', 'any', 'collect', 'rule order', 'first'] as const).map(
    (hitPolicy) =>
      [
        'table-row-never-reached',
        `no value is left for it (${hitPolicy})`,
        [[], sizes([{ size: { from: 5, fromOpen: true, to: 5 } }, { size: 1 }], { hitPolicy })],
        [[], sizes([{ size: { from: 5, to: 5, toClosed: true } }, { size: 1 }], { hitPolicy })],
      ] as const,
  ),
  [
    'does-not-compile',
    'a gap between bands of whole numbers',
    [
      [
        rule(
          'categorize',
          bands([
            { from: 0, to: 9, toClosed: true, result: 1 },
            { from: 11, to: 49, result: 2 },
          ]),
        ),
      ],
      whole,
    ],
    [
      [
        rule(
          'categorize',
          bands([
            { from: 0, to: 9, toClosed: true, result: 1 },
            { from: 10, to: 49, result: 2 },
          ]),
        ),
      ],
      whole,
    ],
  ],
  [
    'does-not-compile',
    'bands in the wrong order',
    [
      [
        rule(
          'categorize',
          bands([
            { from: 50, result: 1 },
            { from: 10, to: 50, result: 2 },
          ]),
        ),
      ],
    ],
    [
      [
        rule(
          'categorize',
          bands([
            { from: 10, to: 50, result: 2 },
            { from: 50, result: 1 },
          ]),
        ),
      ],
    ],
  ],
  [
    'entry-point-hole',
    'a check that an entry point knows nothing of',
    [[{ ...check, entryPoints: ['form:full', 'form:short'] }]],
    [[check]],
  ],
  [
    'blank-kept-away',
    'of a derived value',
    [[rule('derive', setTo('cost', 'Amount'), { condition: 'Amount > 3' })]],
    [
      [
        rule('derive', setTo('cost', 'Amount'), { condition: 'Stage = "Won"' }),
        rule('derive', setTo('title', 'string(Amount)', { blank: 'leave' }), { condition: 'Amount > 3' }),
      ],
    ],
  ],
  ['two-rules-one-field', 'a rule of another record type', [[toSize('large'), sizeHere]], [[toSize('large')]]],
  [
    'different-winners',
    'a rule of another record type',
    [[toSize('large', 'rule'), sizeHere]],
    [[toSize('large'), sizeHere]],
  ],
  [
    'fixed-record',
    'an id where nothing is found',
    [[{ ...match(), outcome: { ...(match().outcome as object), none: { do: 'set', value: '12' } } }]],
    [[{ ...match(), outcome: { ...(match().outcome as object), none: { do: 'clear' } } }]],
  ],
  [
    'unused-column',
    'whose name stands in a text only',
    [[byTable('Country table[Country = Home country][1].Table currency + "Table region"')], table(all)],
    [
      [byTable('Country table[Country = Home country][1].Table currency + Country table[1].Table region'), lookUp],
      table(all),
    ],
  ],
  [
    'unused-option',
    'of several rules',
    [[sizeHere, { ...sizeHere, key: 'again', condition: 'Credit stop' }]],
    [[sizeHere, toSize('small')]],
  ],
];

const find = ([rules, more]: Case): Finding[] =>
  findingsOf(compileProgram(dealBook(rules, more)), { reached: new Set(['tried']) });

function repaired([rules, more]: Case, finding: Finding): Rulebook {
  const book = dealBook(rules, more);
  const parts = toParts(book).map((part) => {
    const edits = finding.repair!.edits.filter((e) => partId(e.part) === partId(part));
    return edits.reduce((p, e) => ({ ...p, body: applyPatch(p.body, e.operations).value }), part);
  });
  return fromParts(parts);
}

describe('findings', () => {
  it('every kind has its pair of cases here', () => {
    expect(findingKinds.map((k) => k.key).sort()).toEqual(Object.keys(cases).sort());
  });

  it.each([
    ...Object.entries(cases).map(([kind, [has, hasNot]]) => [kind, 'in the plainest case', has, hasNot] as const),
    ...further,
  ])('%s: %s', (kind, _, has, hasNot) => {
    const found = find(has).filter((f) => f.kind === kind);
    expect(found.length).toBeGreaterThan(0);
    expect(find(hasNot).filter((f) => f.kind === kind)).toEqual([]);
    for (const f of found) {
      expect(f.sentence).toMatch(/^\S.*[.?]$/);
      if (!f.repair) continue;
      const after = findingsOf(compileProgram(repaired(has, f)), { reached: new Set() });
      expect(after.filter((x) => x.key === f.key).length).toBeLessThan(found.filter((x) => x.key === f.key).length);
    }
  });

  it.each([
    ['Cost + Amount', true],
    ['-Cost', true],
    ['if Amount > 3 then Cost * 2 else 1', true],
    ['Sizes[Size = Cost].Rate', true],
    ['Costs[Cost = record.Cost].Rate', true],
    ['first filled(Cost, Amount)', false],
    ['abs(Cost)', false],
    ['if Cost > 10 then 10 else Cost', false],
    ['previous.Cost + 1', false],
    ['Sizes[Size = Amount].Rate', false],
    ['Costs[Cost = Amount].Rate', false],
  ])('a formula that moves its own field on with each write is told: %s is %s', (formula, told) => {
    const [own] = sizes([{ size: 1, rate: 2 }]).tables!;
    const named = {
      ...own!,
      key: 'costs',
      name: 'Costs',
      keys: [{ key: 'cost', name: 'Cost', type: 'number' as const }],
    };
    const found = find([[rule('derive', setTo('cost', formula))], { tables: [own!, { ...named, rows: [] }] }]);
    expect(found.filter((f) => f.kind === 'does-not-compile')).toEqual([]);
    expect(found.some((f) => f.kind === 'reads-its-own-target')).toBe(told);
  });

  it.each<[string, object[], RegExp]>([
    [
      'in the wrong order',
      [
        { from: 50, result: 1 },
        { from: 10, to: 50, result: 2 },
      ],
      /begins before/,
    ],
    [
      'that overlap',
      [
        { from: 1, to: 50, result: 1 },
        { from: 10, result: 2 },
      ],
      /overlap/,
    ],
    [
      'of which one ends before it begins',
      [
        { from: 50, to: 30, result: 1 },
        { from: 30, result: 2 },
      ],
      /ends before it begins/,
    ],
  ])('bands %s are told as such, and as nothing else', (_, list, says) => {
    const errors = find([[rule('categorize', bands(list))]]).filter((f) => f.severity === 'error');
    expect(errors.map((f) => f.sentence).join(' | ')).toMatch(says);
    expect(errors).toHaveLength(1);
  });

  it('an accepted finding carries its reason', () => {
    const rules = [constant('cost', 'Amount > 1', { purpose: '' })];
    const [finding] = find([rules]).filter((f) => f.kind === 'no-purpose');
    const accepted = find([rules, { accepted: [{ finding: finding!.key, reason: 'plain enough' }] }]);
    expect(accepted.find((f) => f.key === finding!.key)?.accepted).toBe('plain enough');
  });
});

it('a field that very many rules write has no more findings than rules', () => {
  const writing = (n: number): Rule[] =>
    Array.from({ length: n }, (_, i) => ({ ...constant('cost', `Amount > ${i}`), key: `r${i}`, name: `Rule ${i}` }));
  const found = (n: number): number =>
    findingsOf(compileProgram(dealBook(writing(n)))).filter((f) => f.kind === 'two-rules-one-field').length;
  expect(found(5)).toBe(10);
  expect(found(300)).toBe(299);
});

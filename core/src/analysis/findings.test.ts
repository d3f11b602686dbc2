/** Every kind of finding: a rule set that has it, one that has not, and a repair that ends it. */
import { describe, expect, it } from 'vitest';
import { compileProgram } from '../engine/program.ts';
import type { Field, Rule, Rulebook } from '../rulebook/document.ts';
import { applyPatch } from '../rulebook/patch.ts';
import { fromParts, partId, toParts } from '../rulebook/parts.ts';
import { countryTable, dealBook, dealTypes, ruleOf, setTo } from '../testing/deals.ts';
import type { Finding } from './finding.ts';
import { findingKinds, findingsOf } from './index.ts';

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
          source: { by: 'pairs', formula: 'Stage', pairs: [{ from: 'Won', to: '12' }] },
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

  it.each(Object.entries(cases))('%s', (kind, [has, hasNot]) => {
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

  it('an accepted finding carries its reason', () => {
    const rules = [constant('cost', 'Amount > 1', { purpose: '' })];
    const [finding] = find([rules]).filter((f) => f.kind === 'no-purpose');
    const accepted = find([rules, { accepted: [{ finding: finding!.key, reason: 'plain enough' }] }]);
    expect(accepted.find((f) => f.key === finding!.key)?.accepted).toBe('plain enough');
  });

  it('repairs of unknown names, gaps between bands', () => {
    const gap = [
      { to: 10, result: 1 },
      { from: 12, result: 2 },
    ];
    for (const rules of [
      [constant('cost', 'Amout > 1')],
      [constant('cost', 'Stage = "Wonn"')],
      [rule('categorize', bands(gap))],
    ]) {
      const [f] = find([rules]).filter((x) => x.kind === 'does-not-compile');
      expect(f?.repair).toBeDefined();
      const after = findingsOf(compileProgram(repaired([rules], f!)));
      expect(after.filter((x) => x.kind === 'does-not-compile')).toEqual([]);
    }
  });
});

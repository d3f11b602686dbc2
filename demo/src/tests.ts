/** Kept tests of the demo, row by row: what is sent, and what must come out. Values are in stored form. */
import type { Expectation, Moment, RecordData, RuleTest, SampleRecord, Stored } from '@rigid-rule/core/document';

interface Row {
  readonly name: string;
  /** Stored before; absent: a new record. */
  readonly before?: RecordData;
  readonly held?: readonly string[];
  readonly sent: Readonly<Record<string, Stored>>;
  readonly expect: Expectation;
  readonly related?: readonly SampleRecord[];
  readonly moment?: Moment;
  readonly entryPoint?: string;
  readonly origin?: RuleTest['origin'];
  /** Rules that are asked for by name. */
  readonly woken?: readonly string[];
}

const now = '2026-05-03T09:00:00+01:00';
let count = 0;
const test = (recordType: string, row: Row): RuleTest => ({
  key: `demo-${++count}`,
  name: row.name,
  recordType,
  before: row.before ? { data: row.before, ...(row.held ? { held: row.held } : {}) } : null,
  sent: row.sent,
  typed: Object.keys(row.sent),
  moment: row.moment ?? (row.before ? 'updating' : 'creating'),
  entryPoint: row.entryPoint ?? 'form:full',
  now,
  ...(row.related ? { related: row.related } : {}),
  ...(row.origin ? { origin: row.origin } : {}),
  ...(row.woken ? { woken: row.woken } : {}),
  expect: row.expect,
});

type Cases = NonNullable<NonNullable<RuleTest['family']>['cases']>;
/** One test for a list of cases: what is sent in each, and what comes out. */
const each = (recordType: string, row: Omit<Row, 'sent'> & Partial<Pick<Row, 'sent'>>, cases: Cases): RuleTest => ({
  ...test(recordType, { sent: {}, ...row }),
  family: { cases },
});

const firm = { name: 'Fen Orchards' };

const customerTests = [
  each(
    'customer',
    { name: 'Size class around each limit', sent: { ...firm, credit_limit: 500 }, expect: {} },
    {
      sent: ['employee_count'],
      expected: ['size_class'],
      rows: [
        [0, 'micro'],
        [9, 'micro'],
        [10, 'small'],
        [49, 'small'],
        [50, 'medium'],
        [249, 'medium'],
        [250, 'large'],
        [1900, 'large'],
        [-1, null],
        [null, null],
      ],
    },
  ),
  test('customer', {
    name: 'Another field changes: the size class is not looked at',
    before: { ...firm, employee_count: 12, size_class: 'small' },
    sent: { postcode: '1044' },
    expect: { didNotRun: ['size-class-from-employee-count'], fields: { size_class: 'small' } },
  }),
  each(
    'customer',
    {
      name: 'Home country gives region and currency',
      before: { ...firm, home_country: 'de', region: 'north-europe', currency: 'EUR' },
      expect: {},
    },
    {
      sent: ['home_country'],
      expected: ['region', 'currency'],
      rows: [
        ['pt', 'south-europe', 'EUR'],
        ['nz', 'oceania', 'NZD'],
        ['uy', null, null],
        [null, null, null],
      ],
    },
  ),
  test('customer', {
    name: 'In Chile the usual crops are added to those that are there',
    before: { ...firm, crops: ['apples'] },
    sent: { home_country: 'cl' },
    expect: { fields: { crops: ['apples', 'avocados', 'cherries', 'grapes', 'plums'] } },
  }),
  test('customer', {
    name: 'Elsewhere the crops are left alone',
    before: { ...firm, crops: ['apples'] },
    sent: { home_country: 'pt' },
    expect: { fields: { crops: ['apples'] } },
  }),
  each(
    'customer',
    {
      name: 'Postcode: the longest beginning wins, then a shorter one, then none',
      before: { ...firm },
      related: [
        { key: 'a', recordType: 'postcode_row', data: { postcode_prefix: '10', service_area: 'fern' } },
        { key: 'b', recordType: 'postcode_row', data: { postcode_prefix: '104', service_area: 'harrow' } },
        { key: 'fern', recordType: 'service_area', data: { name: 'Fernhollow North' } },
        { key: 'harrow', recordType: 'service_area', data: { name: 'Harrow Fold' } },
      ],
      expect: {},
    },
    {
      sent: ['postcode'],
      expected: ['service_area'],
      rows: [
        ['1044', 'harrow'],
        ['1099', 'fern'],
        ['5700', null],
      ],
    },
  ),
  each(
    'customer',
    { name: 'Words of a name are counted', expect: {} },
    {
      sent: ['name'],
      expected: ['name_word_count'],
      rows: [
        ['Fen', 1],
        ['Fen  Orchards ', 2],
        ['Fen & Sons Orchards', 3],
      ],
    },
  ),
  test('customer', {
    name: 'Two rows with the same beginning: nobody is chosen',
    before: { ...firm },
    sent: { postcode: '1044' },
    related: [
      { key: 'a', recordType: 'postcode_row', data: { postcode_prefix: '10', service_area: 'fern' } },
      { key: 'b', recordType: 'postcode_row', data: { postcode_prefix: '10', service_area: 'harrow' } },
      { key: 'fern', recordType: 'service_area', data: { name: 'Fernhollow North' } },
      { key: 'harrow', recordType: 'service_area', data: { name: 'Harrow Fold' } },
    ],
    expect: { fields: { service_area: null } },
  }),
  {
    ...test('customer', {
      name: 'A new customer begins with the contact of who fills in the form',
      sent: {},
      moment: 'opening',
      related: [{ key: 'me', recordType: 'contact', data: { last_name: 'Lund' } }],
      expect: { fields: { main_contact: 'me' } },
    }),
    user: { name: 'Ada Lund', email: 'ada@quillhaven.example', role: 'record keeper', contact: 'me' },
    family: { entryPoints: ['form:full', 'form:short'] },
  },
  test('customer', {
    name: 'A new phone sets the day of review',
    before: { ...firm, phone: '+351 2 100' },
    sent: { phone: '+351 2 200' },
    expect: { fields: { reviewed_on: '2026-05-03' } },
  }),
  test('customer', {
    name: 'The same phone sets nothing',
    before: { ...firm, phone: '+351 2 100' },
    sent: { phone: '+351 2 100' },
    expect: { fields: { reviewed_on: null }, didNotRun: ['reviewed-on-phone-change'] },
  }),
  test('customer', {
    name: 'A large holding needs a credit limit',
    before: { ...firm, employee_count: 12, size_class: 'small' },
    sent: { employee_count: 300 },
    expect: { verdict: 'stopped', states: { credit_limit: { required: true } } },
  }),
  test('customer', {
    name: 'Credit stop tells each contact with an address once',
    before: { ...firm, credit_stop: false },
    sent: { credit_stop: true },
    related: [
      { key: '1', recordType: 'contact', data: { last_name: 'Zeller', customer: 'tested', email: 'a@fen.example' } },
      { key: '2', recordType: 'contact', data: { last_name: 'Adair', customer: 'tested', email: 'A@fen.example' } },
      { key: '3', recordType: 'contact', data: { last_name: 'Boone', customer: 'tested' } },
    ],
    expect: { notified: ['a@fen.example'] },
  }),
  test('customer', {
    name: 'Saved again under credit stop: nobody is told',
    before: { ...firm, credit_stop: true },
    sent: { postcode: '1044' },
    expect: { notified: [] },
  }),
  test('customer', {
    name: 'Open deals are added up, blanks and won deals left out',
    before: { ...firm },
    sent: {},
    moment: 'on request',
    woken: ['open-deal-value'],
    related: [
      { key: '1', recordType: 'deal', data: { customer: 'tested', stage: 'enquiry', amount: 1000 } },
      { key: '2', recordType: 'deal', data: { customer: 'tested', stage: 'won', amount: 5000 } },
      { key: '3', recordType: 'deal', data: { customer: 'tested', stage: 'proposal' } },
    ],
    expect: { fields: { open_deal_value: 1000 } },
  }),
  test('customer', {
    name: 'New customers start at 30 days',
    sent: { ...firm },
    expect: { fields: { credit_terms: '30-days' } },
  }),
  test('customer', {
    name: 'Terms that were given stand',
    sent: { ...firm, credit_terms: 'prepaid' },
    expect: { fields: { credit_terms: 'prepaid' } },
  }),
  test('customer', {
    name: 'Terms that were cleared on purpose stay blank',
    sent: { ...firm, credit_terms: null },
    expect: { fields: { credit_terms: null } },
  }),
  test('customer', {
    name: 'A lead becomes a customer with its values',
    sent: {},
    entryPoint: 'conversion',
    origin: { recordType: 'lead', data: { full_name: 'Ada Lund', firm_as_given: 'Lund Fruit', home_country: 'no' } },
    expect: { fields: { name: 'Lund Fruit', home_country: 'no' } },
  }),
];

const contactTests = [
  each(
    'contact',
    { name: 'A full name in Last name is split', entryPoint: 'import', expect: {} },
    {
      sent: ['last_name'],
      expected: ['first_name', 'last_name'],
      rows: [
        ['Ada Lund', 'Ada', 'Lund'],
        ['Ada  Maria Lund ', 'Ada', 'Maria Lund'],
        ['Lund', null, 'Lund'],
      ],
    },
  ),
  test('contact', {
    name: 'An existing contact is not split',
    before: { last_name: 'Ada Lund' },
    sent: { role: 'buyer' },
    expect: { fields: { last_name: 'Ada Lund' }, didNotRun: ['name-split'] },
  }),
  ...(
    [
      ['FEN  orchards', ['Fen Orchards'], '1', 'whatever case and spaces'],
      ['Fen Orchards', ['Fen Orchards', 'fen orchards'], null, 'two of one name'],
      ['Moss Farm', ['Fen Orchards'], null, 'none of the name'],
    ] as const
  ).map(([given, names, found, what]) =>
    test('contact', {
      name: `“${given}” as firm: ${what}`,
      sent: { last_name: 'Lund', firm_as_given: given },
      related: names.map((name, i) => ({ key: String(i + 1), recordType: 'customer', data: { name } })),
      expect: { fields: { customer: found } },
    }),
  ),
  test('contact', {
    name: 'An answer is stamped',
    before: { last_name: 'Lund' },
    sent: { invitation_answer: 'coming' },
    expect: { ran: ['answered-at'], fields: { answered_at: '2026-05-03T08:00:00Z' } },
  }),
  test('contact', {
    name: 'An answer taken back is not stamped',
    before: { last_name: 'Lund', invitation_answer: 'coming', answered_at: '2026-01-03T08:00:00Z' },
    sent: { invitation_answer: null },
    expect: { fields: { answered_at: '2026-01-03T08:00:00Z' } },
  }),
  test('contact', {
    name: 'Another field does not stamp the answer',
    before: { last_name: 'Lund', invitation_answer: 'coming' },
    sent: { role: 'buyer' },
    expect: { didNotRun: ['answered-at'] },
  }),
];

const leadTests = [
  each(
    'lead',
    {
      name: 'Source gives priority',
      before: { full_name: 'Ada Lund', source: 'web-form', priority: 'soon' },
      expect: {},
    },
    {
      sent: ['source'],
      expected: ['priority'],
      rows: [
        ['phone-call', 'now'],
        ['old-list', 'later'],
        [null, null],
      ],
    },
  ),
  test('lead', {
    name: 'A country in its own language is understood, and gives the region',
    sent: { full_name: 'Ada Lund', country_as_given: 'deutschland' },
    expect: { fields: { home_country: 'de', region: 'north-europe' } },
  }),
  test('lead', {
    name: 'A country that nobody knows leaves the home country alone',
    sent: { full_name: 'Ada Lund', country_as_given: 'Atlantis' },
    expect: { fields: { home_country: null } },
  }),
  test('lead', {
    name: 'Dropped: where it was is kept',
    before: { full_name: 'Ada Lund', stage: 'called' },
    sent: { stage: 'dropped' },
    expect: { fields: { stage_before_dropped: 'called' } },
  }),
  test('lead', {
    name: 'Dropped on creation: there was no stage before',
    sent: { full_name: 'Ada Lund', stage: 'dropped' },
    expect: { fields: { stage_before_dropped: null } },
  }),
  test('lead', {
    name: 'A kit that is not sold there gives way to the only one left',
    before: { full_name: 'Ada Lund', kit_interest: 'frost-watch', home_country: 'no' },
    sent: { home_country: 'mx' },
    expect: { fields: { kit_interest: 'drip-line' } },
  }),
];

const buyer: readonly SampleRecord[] = [
  { key: 'f', recordType: 'customer', data: { name: 'Fen Orchards', size_class: 'small' } },
  { key: 'c', recordType: 'contact', data: { first_name: 'Ada', last_name: 'Lund', email: 'ada@fen.example' } },
];
const deal = (more: RecordData = {}): RecordData => ({ customer: 'f', contact: 'c', deal_kind: 'extension', ...more });

const tooMuch = 'This is more than may be given for the size of the holding. Ask Ines for a price of its own.';
const half = 'More than half of what may be given.';

const dealTests = [
  test('deal', {
    name: 'The title says customer and kind',
    sent: deal(),
    related: buyer,
    expect: { fields: { title: 'Fen Orchards, Extension' } },
  }),
  test('deal', {
    name: 'Collected at the depot: nothing is due',
    before: deal(),
    sent: { delivery_method: 'collected-at-depot' },
    related: buyer,
    expect: { fields: { carriage_terms: 'nothing-due' } },
  }),
  test('deal', {
    name: 'Terms agreed afterwards stand',
    before: deal({ delivery_method: 'collected-at-depot', carriage_terms: 'nothing-due' }),
    sent: { carriage_terms: 'paid-by-customer' },
    related: buyer,
    expect: { fields: { carriage_terms: 'paid-by-customer' } },
  }),
  test('deal', {
    name: 'Back from the proposal to the survey costs 750',
    before: deal({ stage: 'proposal', furthest_stage: 'proposal', amount: 9000 }),
    sent: { stage: 'surveyed' },
    related: buyer,
    expect: { fields: { cost: 750, previous_stage: 'proposal', furthest_stage: 'proposal', margin: 8250 } },
  }),
  test('deal', {
    name: 'Leaving the enquiry costs 120',
    before: deal({ stage: 'enquiry' }),
    sent: { stage: 'proposal' },
    related: buyer,
    expect: { fields: { cost: 120, previous_stage: 'enquiry', furthest_stage: 'proposal' } },
  }),
  test('deal', {
    name: 'Another field leaves the previous stage',
    before: deal({ stage: 'proposal', previous_stage: 'enquiry' }),
    sent: { discount: 0.02 },
    related: buyer,
    expect: { fields: { previous_stage: 'enquiry' }, didNotRun: ['previous-stage', 'stage-changed-at'] },
  }),
  test('deal', {
    name: 'Withdrawn stands outside the order: the furthest stage stays, nothing is expected',
    before: deal({ stage: 'proposal', furthest_stage: 'proposal', amount: 9000 }),
    sent: { stage: 'withdrawn' },
    related: buyer,
    expect: { fields: { furthest_stage: 'proposal', expected_value: 0, amount: 9000 } },
  }),
  test('deal', {
    name: 'Surveyed without an amount: the standard one',
    before: deal({ stage: 'enquiry' }),
    sent: { stage: 'surveyed' },
    related: buyer,
    expect: { fields: { amount: 8500, expected_value: 2550 } },
  }),
  each(
    'deal',
    { name: 'One gateway for every 24 sensors begun', sent: deal(), related: buyer, expect: { verdict: 'saved' } },
    {
      sent: ['frost_sensors'],
      expected: ['gateways'],
      rows: [
        [24, 1],
        [25, 2],
        [140, 6],
      ],
    },
  ),
  test('deal', {
    name: 'Gateways that were given stand',
    sent: deal({ frost_sensors: 30, gateways: 5 }),
    related: buyer,
    expect: { fields: { gateways: 5 } },
  }),
  ...(
    [
      [0.04, 'saved', []],
      [0.05, 'saved', [half]],
      [0.08, 'saved', [half]],
      [0.081, 'stopped', [tooMuch, half]],
    ] as const
  ).map(([discount, verdict, messages]) =>
    test('deal', {
      name: `${discount * 100} % to a small holding is ${verdict}${messages.length === 1 ? ', with a warning' : ''}`,
      sent: deal({ discount }),
      related: buyer,
      expect: { verdict, messages },
    }),
  ),
  test('deal', {
    name: 'The watch flag gives extended cover',
    before: deal({ watch_flag: false, cover: 'basic' }),
    sent: { watch_flag: true },
    related: buyer,
    expect: { fields: { cover: 'extended' } },
  }),
  test('deal', {
    name: 'Commissioned: the grower, the owner and the warehouse are told',
    before: deal({ stage: 'won', title: 'Fen Orchards, Extension', owner: 'mira@quillhaven.example' }),
    sent: { stage: 'commissioned' },
    related: buyer,
    expect: { notified: ['ada@fen.example', 'mira@quillhaven.example', 'warehouse'] },
  }),
  test('deal', {
    name: 'Any other stage tells nobody',
    before: deal({ stage: 'proposal' }),
    sent: { stage: 'won' },
    related: buyer,
    expect: { notified: [] },
  }),
];

const visitTests = [
  test('visit', {
    name: 'A soil probe has its standard amount',
    sent: { visit_kind: 'soil-probe' },
    expect: { fields: { visit_amount: 140 } },
  }),
  test('visit', {
    name: 'An amount that was agreed afterwards stands',
    before: { visit_kind: 'soil-probe', visit_amount: 140 },
    sent: { visit_amount: 90 },
    expect: { fields: { visit_amount: 90 } },
  }),
  test('visit', {
    name: 'A visit to come is planned',
    sent: { visit_kind: 'survey', visit_date: '2026-06-01' },
    expect: { fields: { visit_state: 'planned' } },
  }),
  test('visit', {
    name: 'A visit of the past is not',
    sent: { visit_kind: 'survey', visit_date: '2026-01-01' },
    expect: { fields: { visit_state: null } },
  }),
];

/** Tests that were thought of by hand. */
export const tests: readonly RuleTest[] = [
  ...customerTests,
  ...contactTests,
  ...leadTests,
  ...dealTests,
  ...visitTests,
];

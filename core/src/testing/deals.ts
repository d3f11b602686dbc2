/** A rulebook for tests with records that name each other: customers, their contacts and deals, service areas, a table. */
import type { Field, MappingTable, RecordType, Rule, Rulebook } from '../document/document.ts';
import type { Write } from '../records/write.ts';
import type { StoredRecordOf } from '../records/record-source.ts';

const options = (...names: readonly string[]) => names.map((name) => ({ key: name.toLowerCase(), name }));
const type = (key: string, name: string, plural: string, fields: readonly Field[]): RecordType => ({
  key,
  name,
  plural,
  title: [fields[0]!.key],
  fields,
  forms: [
    { key: 'full', name: 'full form' },
    { key: 'short', name: 'short form' },
  ],
});

export const dealTypes: readonly RecordType[] = [
  type('customer', 'Customer', 'Customers', [
    { key: 'name', name: 'Name', type: 'text' },
    {
      key: 'country',
      name: 'Home country',
      type: 'picklist',
      options: options('Portugal', 'Spain', 'Norway', 'Chile'),
    },
    { key: 'region', name: 'Region', type: 'picklist', options: options('South', 'North') },
    { key: 'currency', name: 'Currency', type: 'text', length: 3 },
    { key: 'crops', name: 'Crops', type: 'multi-select', options: options('Apple', 'Pear', 'Olive', 'Grape') },
    { key: 'postcode', name: 'Postcode', type: 'text' },
    { key: 'area', name: 'Service area', type: 'lookup', recordType: 'area' },
    { key: 'open', name: 'Open deal value', type: 'money' },
    { key: 'stop', name: 'Credit stop', type: 'yes/no' },
    { key: 'reviewed', name: 'Reviewed on', type: 'date' },
    { key: 'phone', name: 'Phone', type: 'phone' },
    { key: 'size', name: 'Size class', type: 'picklist', ordered: true, options: options('Micro', 'Small', 'Large') },
  ]),
  type('contact', 'Contact', 'Contacts', [
    { key: 'last', name: 'Last name', type: 'text' },
    { key: 'first', name: 'First name', type: 'text' },
    { key: 'firm', name: 'Firm as given', type: 'text' },
    { key: 'customer', name: 'Customer', type: 'lookup', recordType: 'customer' },
    { key: 'email', name: 'Email', type: 'email' },
    { key: 'answer', name: 'Invitation answer', type: 'picklist', options: options('Yes', 'No') },
    { key: 'answered', name: 'Answered at', type: 'date-time' },
  ]),
  type('deal', 'Deal', 'Deals', [
    { key: 'title', name: 'Title', type: 'text' },
    { key: 'customer', name: 'Customer', type: 'lookup', recordType: 'customer' },
    { key: 'kind', name: 'Deal kind', type: 'picklist', options: options('Install', 'Plan') },
    {
      key: 'stage',
      name: 'Stage',
      type: 'picklist',
      ordered: true,
      options: [
        ...options('Enquiry', 'Surveyed', 'Proposal', 'Won'),
        { key: 'withdrawn', name: 'Withdrawn', outside: true },
      ],
    },
    {
      key: 'previous',
      name: 'Previous stage',
      type: 'picklist',
      options: options('Enquiry', 'Surveyed', 'Proposal', 'Won', 'Withdrawn'),
    },
    {
      key: 'furthest',
      name: 'Furthest stage',
      type: 'picklist',
      ordered: true,
      options: options('Enquiry', 'Surveyed', 'Proposal', 'Won'),
    },
    { key: 'amount', name: 'Amount', type: 'money' },
    { key: 'cost', name: 'Cost', type: 'money' },
    { key: 'discount', name: 'Discount', type: 'percent' },
    { key: 'signed', name: 'Signing date', type: 'date' },
  ]),
  type('area', 'Service area', 'Service areas', [
    { key: 'name', name: 'Name', type: 'text' },
    { key: 'prefix', name: 'Postcode prefix', type: 'text' },
    { key: 'depot', name: 'Depot', type: 'text' },
  ]),
];

export const countryTable: MappingTable = {
  key: 'countries',
  name: 'Country table',
  purpose: '',
  hitPolicy: 'unique',
  keys: [{ key: 'country', name: 'Country', field: 'customer.country' }],
  outputs: [
    { key: 'region', name: 'Table region', field: 'customer.region' },
    { key: 'currency', name: 'Table currency' },
    { key: 'crops', name: 'Usual crops', field: 'customer.crops' },
  ],
  rows: [
    { country: 'Portugal', region: 'South', currency: 'EUR', crops: ['Olive', 'Grape'] },
    { country: 'Spain', region: 'South', currency: 'EUR', crops: ['Olive'] },
    { country: 'Norway', region: 'North', currency: 'NOK' },
  ],
};

let position = 0;

export function ruleOf(recordType: string, kind: string, outcome: unknown, more: Partial<Rule> = {}): Rule {
  position++;
  return {
    key: `rule-${position}`,
    recordType,
    name: `Rule ${position}`,
    purpose: 'tried here',
    kind,
    on: true,
    position,
    moments: ['editing', 'creating', 'updating'],
    entryPoints: ['form:full', 'form:short', 'import', 'api', 'bulk', 'conversion', 'rule', 'backfill'],
    repeat: 'wakes',
    winner: 'rule',
    outcome,
    ...more,
  };
}

const left = { do: 'leave' };
/** A map rule that leaves what it has no value for. `onto`: the lookup or child list that it writes to. */
export const mapOf = (
  recordType: string,
  source: object,
  outputs: readonly object[],
  onto = '',
  more: object = {},
  rule: Partial<Rule> = {},
): Rule => ruleOf(recordType, 'map', { source, onto, outputs, blank: left, none: left, several: left, ...more }, rule);

export const pairsOf = (formula: string, ...pairs: readonly (readonly [string, unknown])[]): object => ({
  by: 'pairs',
  formula,
  pairs: pairs.map(([from, to]) => ({ from, to })),
});

export const outputOf = (target: string, value = '', way = 'replace'): object => ({ target, value, way });

/** One step that sets a field to a formula. */
export const setTo = (target: string, formula: string, more: object = {}): unknown => ({
  steps: [{ target, scratch: '', formula, blank: 'clear', ...more }],
});

export const dealBook = (rules: readonly Rule[], more: Partial<Rulebook> = {}): Rulebook => ({
  format: 'rigid-rule/1',
  name: 'Deals',
  zone: 'Europe/Lisbon',
  currency: 'EUR',
  userRecordType: 'contact',
  recordTypes: dealTypes,
  rules,
  tables: [countryTable],
  ...more,
});

/** A write through the full form; `before` null for a new record. */
export function writeOf(
  recordType: string,
  before: Write['before'] | Record<string, unknown> | null,
  sent: Record<string, unknown>,
  more: Partial<Write> = {},
): Write {
  const stored =
    before && 'data' in before ? (before as NonNullable<Write['before']>) : before && { data: before, held: [] };
  return {
    recordType,
    before: stored as Write['before'],
    sent,
    typed: Object.keys(sent),
    moment: before ? 'updating' : 'creating',
    entryPoint: 'form:full',
    now: '2026-05-03T09:00:00+01:00',
    ...more,
  };
}

export const recordOf = (recordType: string, id: string, data: StoredRecordOf['data']): StoredRecordOf => ({
  recordType,
  id,
  data,
});
/** Three customers, the first with contacts and deals; two service areas. */
export const dealRecords: readonly StoredRecordOf[] = [
  recordOf('customer', '1', {
    name: 'Alder Growers',
    country: 'portugal',
    postcode: '4100-100',
    stop: false,
    open: 10,
  }),
  recordOf('customer', '2', { name: 'Fen  Orchards', country: 'norway' }),
  recordOf('customer', '3', { name: 'fen orchards' }),
  recordOf('contact', '11', { last: 'Moor', first: 'Ana', customer: '1', email: 'ana@alder.example' }),
  recordOf('contact', '12', { last: 'Vale', customer: '1', email: 'ANA@alder.example' }),
  recordOf('contact', '13', { last: 'Lake', customer: '1' }),
  recordOf('deal', '21', { title: 'A', customer: '1', stage: 'proposal', amount: 100 }),
  recordOf('deal', '22', { title: 'B', customer: '1', stage: 'surveyed' }),
  recordOf('deal', '23', { title: 'C', customer: '1', stage: 'won', amount: 1000 }),
  recordOf('area', '31', { name: 'Coast', prefix: '41', depot: 'Porto' }),
  recordOf('area', '32', { name: 'City', prefix: '4100', depot: 'Gaia' }),
];

/** Record types and fields of the demo. */
import type { Field, Option, RecordType } from '@rigid-rule/core/document';
import { countries, depots } from './words.ts';

/** An option key from its name: lower case, hyphens. Keys that have to be codes are given. */
export function optionKey(name: string): string {
  return name.toLowerCase().replace(/[^a-z0-9]+/g, '-');
}

const options = (...names: readonly string[]): Option[] => names.map((name) => ({ key: optionKey(name), name }));

export const sizeClasses = options('Micro', 'Small', 'Medium', 'Large');

const holding = 'Holding';
const place = 'Place';
const credit = 'Credit';
const growing = 'Growing';
const reach = 'Reach';

export const customerFields: readonly Field[] = [
  { key: 'name', name: 'Name', type: 'text', length: 120, required: true, group: holding },
  { key: 'owner', name: 'Owner', type: 'user', group: holding },
  {
    key: 'holding_kind',
    name: 'Holding kind',
    type: 'picklist',
    group: holding,
    options: options('Orchard', 'Vineyard', 'Nursery', 'Packhouse'),
  },
  {
    key: 'employee_count',
    name: 'Employee count',
    type: 'number',
    scale: 0,
    min: -1_000_000,
    max: 1_000_000,
    group: holding,
    help: 'Heads, seasonal workers left out',
  },
  { key: 'size_class', name: 'Size class', type: 'picklist', ordered: true, options: sizeClasses, group: holding },
  {
    key: 'home_country',
    name: 'Home country',
    type: 'picklist',
    group: place,
    options: countries.map(({ key, name }) => ({ key, name })),
  },
  {
    key: 'region',
    name: 'Region',
    type: 'picklist',
    group: place,
    options: options(
      'Africa',
      'East Asia',
      'North America',
      'North Europe',
      'Oceania',
      'South America',
      'South Europe',
      'West Asia',
    ),
  },
  { key: 'currency', name: 'Currency', type: 'text', length: 3, group: place, help: 'ISO 4217 code' },
  { key: 'postcode', name: 'Postcode', type: 'text', length: 12, group: place },
  { key: 'service_area', name: 'Service area', type: 'lookup', recordType: 'service_area', group: place },
  { key: 'depot', name: 'Depot', type: 'picklist', group: place, options: options(...depots) },
  {
    key: 'credit_terms',
    name: 'Credit terms',
    type: 'picklist',
    ordered: true,
    group: credit,
    options: options('Prepaid', '14 days', '30 days', '60 days'),
  },
  { key: 'credit_limit', name: 'Credit limit', type: 'money', scale: 0, min: 0, group: credit },
  { key: 'credit_stop', name: 'Credit stop', type: 'yes/no', group: credit },
  { key: 'ledger_code', name: 'Ledger code', type: 'text', length: 10, group: credit },
  { key: 'open_deal_value', name: 'Open deal value', type: 'money', scale: 0, group: credit },
  { key: 'planted_hectares', name: 'Planted hectares', type: 'number', scale: 1, min: 0, group: growing },
  {
    key: 'crops',
    name: 'Crops',
    type: 'multi-select',
    group: growing,
    options: options(
      'Almonds',
      'Apples',
      'Avocados',
      'Berries',
      'Cherries',
      'Citrus',
      'Grapes',
      'Hops',
      'Olives',
      'Peaches',
      'Pears',
      'Plums',
    ),
  },
  {
    key: 'frost_zone',
    name: 'Frost zone',
    type: 'picklist',
    ordered: true,
    group: growing,
    options: options('Frost free', 'Valley floor', 'Slope', 'Upland'),
  },
  { key: 'main_contact', name: 'Main contact', type: 'lookup', recordType: 'contact', group: reach },
  { key: 'phone', name: 'Phone', type: 'phone', group: reach },
  { key: 'email', name: 'Email', type: 'email', group: reach },
  { key: 'name_word_count', name: 'Name word count', type: 'number', scale: 0, group: reach },
  { key: 'reviewed_on', name: 'Reviewed on', type: 'date', group: reach },
];

const contactFields: readonly Field[] = [
  { key: 'first_name', name: 'First name', type: 'text', length: 60, group: 'Person' },
  { key: 'last_name', name: 'Last name', type: 'text', length: 60, required: true, group: 'Person' },
  {
    key: 'role',
    name: 'Role',
    type: 'picklist',
    group: 'Person',
    options: options('Owner', 'Grower', 'Buyer', 'Office', 'Packing'),
  },
  {
    key: 'firm_as_given',
    name: 'Firm as given',
    type: 'text',
    group: 'Firm',
    help: 'What the person wrote; may be misspelt',
  },
  { key: 'customer', name: 'Customer', type: 'lookup', recordType: 'customer', group: 'Firm' },
  { key: 'email', name: 'Email', type: 'email', group: 'Firm' },
  { key: 'phone', name: 'Phone', type: 'phone', group: 'Firm' },
  {
    key: 'invitation_answer',
    name: 'Invitation answer',
    type: 'picklist',
    group: 'Invitation',
    options: options('Coming', 'Not coming', 'Perhaps'),
  },
  { key: 'answered_at', name: 'Answered at', type: 'date-time', group: 'Invitation' },
];

const homeCountries = countries.map(({ key, name }) => ({ key, name }));
const optionsOf = (key: string): readonly Option[] => customerFields.find((f) => f.key === key)!.options!;

export const leadSources = options(
  'Web form',
  'Phone call',
  'Trade fair',
  'Referral',
  'Installer',
  'Newsletter',
  'Growers circle',
  'Open day',
  'Magazine',
  'Search',
  'Old list',
  'Walk in',
);
export const kits = options('Drip line', 'Frost watch', 'Sprinkler', 'Harvest count', 'Soil probe set');
export const leadStages = [
  ...options('New', 'Called', 'Visited', 'Converted'),
  { key: 'dropped', name: 'Dropped', outside: true },
];

const leadFields: readonly Field[] = [
  { key: 'full_name', name: 'Full name', type: 'text', length: 120, required: true, group: 'Person' },
  { key: 'first_name', name: 'First name', type: 'text', length: 60, group: 'Person' },
  { key: 'last_name', name: 'Last name', type: 'text', length: 60, group: 'Person' },
  { key: 'email', name: 'Email', type: 'email', group: 'Person' },
  { key: 'phone', name: 'Phone', type: 'phone', group: 'Person' },
  { key: 'firm_as_given', name: 'Firm as given', type: 'text', group: 'Firm' },
  { key: 'country_as_given', name: 'Country as given', type: 'text', group: 'Firm', help: 'As the person wrote it' },
  { key: 'home_country', name: 'Home country', type: 'picklist', group: 'Firm', options: homeCountries },
  { key: 'region', name: 'Region', type: 'picklist', group: 'Firm', options: optionsOf('region') },
  { key: 'source', name: 'Source', type: 'picklist', group: 'Interest', options: leadSources },
  {
    key: 'priority',
    name: 'Priority',
    type: 'picklist',
    ordered: true,
    group: 'Interest',
    options: options('Later', 'Soon', 'Now'),
  },
  { key: 'kit_interest', name: 'Kit interest', type: 'picklist', group: 'Interest', options: kits },
  { key: 'stage', name: 'Stage', type: 'picklist', ordered: true, group: 'Interest', options: leadStages },
  {
    key: 'stage_before_dropped',
    name: 'Stage before dropped',
    type: 'picklist',
    group: 'Interest',
    options: leadStages,
    optionsOf: 'stage',
  },
  { key: 'became_customer', name: 'Became customer', type: 'lookup', recordType: 'customer', group: 'Interest' },
];

export const dealStages = [
  ...options('Enquiry', 'Surveyed', 'Proposal', 'Won', 'Commissioned'),
  { key: 'withdrawn', name: 'Withdrawn', outside: true },
];
export const dealKinds = options('New install', 'Extension', 'Service plan');

const dealFields: readonly Field[] = [
  { key: 'title', name: 'Title', type: 'text', length: 160, group: 'Deal' },
  { key: 'owner', name: 'Owner', type: 'user', group: 'Deal' },
  { key: 'customer', name: 'Customer', type: 'lookup', recordType: 'customer', required: true, group: 'Deal' },
  { key: 'contact', name: 'Contact', type: 'lookup', recordType: 'contact', group: 'Deal' },
  { key: 'deal_kind', name: 'Deal kind', type: 'picklist', options: dealKinds, group: 'Deal' },
  { key: 'stage', name: 'Stage', type: 'picklist', ordered: true, options: dealStages, group: 'Course' },
  {
    key: 'previous_stage',
    name: 'Previous stage',
    type: 'picklist',
    ordered: true,
    options: dealStages,
    optionsOf: 'stage',
    group: 'Course',
  },
  {
    key: 'furthest_stage',
    name: 'Furthest stage',
    type: 'picklist',
    ordered: true,
    options: dealStages,
    optionsOf: 'stage',
    group: 'Course',
  },
  { key: 'stage_changed_at', name: 'Stage changed at', type: 'date-time', group: 'Course' },
  { key: 'signing_date', name: 'Signing date', type: 'date', group: 'Course' },
  { key: 'amount', name: 'Amount', type: 'money', scale: 2, min: 0, group: 'Money' },
  { key: 'cost', name: 'Cost', type: 'money', scale: 2, min: 0, group: 'Money' },
  { key: 'margin', name: 'Margin', type: 'money', scale: 2, group: 'Money' },
  { key: 'discount', name: 'Discount', type: 'percent', scale: 3, min: 0, max: 1, group: 'Money' },
  { key: 'expected_value', name: 'Expected value', type: 'money', scale: 2, group: 'Money' },
  {
    key: 'delivery_method',
    name: 'Delivery method',
    type: 'picklist',
    group: 'Delivery',
    options: options('Own van', 'Carrier', 'Collected at depot'),
  },
  {
    key: 'carriage_terms',
    name: 'Carriage terms',
    type: 'picklist',
    group: 'Delivery',
    options: options('Nothing due', 'Paid by us', 'Paid by customer'),
  },
  { key: 'frost_sensors', name: 'Frost sensors', type: 'number', scale: 0, min: 0, group: 'Delivery' },
  { key: 'gateways', name: 'Gateways', type: 'number', scale: 0, min: 0, group: 'Delivery' },
  { key: 'watch_flag', name: 'Watch flag', type: 'yes/no', group: 'Delivery' },
  { key: 'cover', name: 'Cover', type: 'picklist', group: 'Delivery', options: options('Basic', 'Extended') },
];

const visitFields: readonly Field[] = [
  { key: 'deal', name: 'Deal', type: 'lookup', recordType: 'deal', group: 'Visit' },
  {
    key: 'visit_kind',
    name: 'Visit kind',
    type: 'picklist',
    group: 'Visit',
    options: options('Survey', 'Soil probe', 'Fitting', 'Service'),
  },
  { key: 'visit_date', name: 'Visit date', type: 'date', group: 'Visit' },
  { key: 'visit_amount', name: 'Visit amount', type: 'money', scale: 2, min: 0, group: 'Visit' },
  {
    key: 'visit_state',
    name: 'Visit state',
    type: 'picklist',
    group: 'Visit',
    options: options('Planned', 'Done', 'Missed'),
  },
];

const serviceAreaFields: readonly Field[] = [
  { key: 'name', name: 'Name', type: 'text', length: 60, required: true, unique: true, group: 'Area' },
  { key: 'keeper', name: 'Keeper', type: 'user', group: 'Area' },
  { key: 'depot', name: 'Depot', type: 'picklist', group: 'Area', options: options(...depots) },
];

const postcodeRowFields: readonly Field[] = [
  {
    key: 'postcode_prefix',
    name: 'Postcode prefix',
    type: 'text',
    length: 12,
    required: true,
    unique: true,
    group: 'Row',
  },
  { key: 'service_area', name: 'Service area', type: 'lookup', recordType: 'service_area', group: 'Row' },
];

const full = { key: 'full', name: 'full form' };

export const recordTypes: readonly RecordType[] = [
  {
    key: 'customer',
    name: 'Customer',
    plural: 'Customers',
    title: ['name'],
    fields: customerFields,
    forms: [
      full,
      {
        key: 'short',
        name: 'short form',
        fields: ['name', 'holding_kind', 'employee_count', 'size_class', 'home_country', 'phone'],
      },
    ],
  },
  {
    key: 'contact',
    name: 'Contact',
    plural: 'Contacts',
    title: ['first_name', 'last_name'],
    fields: contactFields,
    forms: [full, { key: 'short', name: 'short form', fields: ['first_name', 'last_name', 'email', 'customer'] }],
  },
  {
    key: 'lead',
    name: 'Lead',
    plural: 'Leads',
    title: ['full_name'],
    fields: leadFields,
    forms: [full, { key: 'short', name: 'short form', fields: ['full_name', 'email', 'country_as_given', 'source'] }],
  },
  { key: 'deal', name: 'Deal', plural: 'Deals', title: ['title'], fields: dealFields, forms: [full] },
  {
    key: 'visit',
    name: 'Visit',
    plural: 'Visits',
    title: ['visit_kind', 'visit_date'],
    fields: visitFields,
    forms: [full],
  },
  {
    key: 'service_area',
    name: 'Service area',
    plural: 'Service areas',
    title: ['name'],
    fields: serviceAreaFields,
    forms: [full],
  },
  {
    key: 'postcode_row',
    name: 'Postcode row',
    plural: 'Postcode rows',
    title: ['postcode_prefix'],
    fields: postcodeRowFields,
    forms: [full],
  },
];

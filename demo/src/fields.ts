/** Record types and fields of the demo. */
import type { Field, Option, RecordType } from '@rigid-rule/core';
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
];

const serviceAreaFields: readonly Field[] = [
  { key: 'name', name: 'Name', type: 'text', length: 60, required: true, unique: true, group: 'Area' },
  { key: 'keeper', name: 'Keeper', type: 'user', group: 'Area' },
  { key: 'depot', name: 'Depot', type: 'picklist', group: 'Area', options: options(...depots) },
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
    key: 'service_area',
    name: 'Service area',
    plural: 'Service areas',
    title: ['name'],
    fields: serviceAreaFields,
    forms: [full],
  },
];

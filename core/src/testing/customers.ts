/** A small rulebook for tests: one record type, size classes by the European headcount limits. */
import type { Field, RecordType, Rule, Rulebook } from '../document/document.ts';
import type { Write } from '../records/write.ts';

const options = (...names: readonly string[]) => names.map((name) => ({ key: name.toLowerCase(), name }));

const fields: readonly Field[] = [
  { key: 'name', name: 'Name', type: 'text', required: true, length: 60 },
  { key: 'count', name: 'Employee count', type: 'number', scale: 0 },
  {
    key: 'class',
    name: 'Size class',
    type: 'picklist',
    ordered: true,
    options: options('Micro', 'Small', 'Medium', 'Large'),
  },
  { key: 'kind', name: 'Kind', type: 'picklist', options: options('Orchard', 'Vineyard') },
  { key: 'area', name: 'Area', type: 'number', scale: 1 },
  { key: 'rank', name: 'Rank', type: 'number', scale: 0 },
];

export const customerType: RecordType = {
  key: 'customer',
  name: 'Customer',
  plural: 'Customers',
  title: ['name'],
  fields,
  forms: [
    { key: 'full', name: 'full form' },
    { key: 'short', name: 'short form' },
  ],
};

/**
 * Headcount limits of micro, small and medium-sized enterprises: Commission Recommendation 2003/361/EC, Annex,
 * Article 2: fewer than 10, fewer than 50, fewer than 250 persons.
 */
export const sizeClass: Rule = {
  key: 'size-class',
  recordType: 'customer',
  name: 'Size class, set from employee count',
  purpose: 'Every customer needs one.',
  kind: 'categorize',
  on: true,
  position: 0,
  moments: ['editing', 'creating', 'updating'],
  entryPoints: ['form:full', 'form:short', 'import', 'api', 'bulk'],
  repeat: 'wakes',
  winner: 'locked',
  outcome: {
    source: 'Employee count',
    target: 'class',
    bands: [
      { from: 0, to: 10, result: 'micro' },
      { from: 10, to: 50, result: 'small' },
      { from: 50, to: 250, result: 'medium' },
      { from: 250, result: 'large' },
    ],
    blank: { do: 'clear' },
    outside: { do: 'clear' },
  },
};

export function rulebookOf(...rules: readonly Rule[]): Rulebook {
  return {
    format: 'rigid-rule/1',
    name: 'Tests',
    zone: 'Europe/Lisbon',
    currency: 'EUR',
    recordTypes: [customerType],
    rules,
  };
}

/** An update through the full form, of a stored record, with what was typed. */
export function update(
  before: Record<string, string | number | null>,
  typed: Record<string, unknown>,
  more: Partial<Write> = {},
): Write {
  return {
    recordType: 'customer',
    before: { data: { name: 'Alder', ...before }, held: [] },
    sent: typed,
    typed: Object.keys(typed),
    moment: 'updating',
    entryPoint: 'form:full',
    now: '2026-05-03T09:00:00Z',
    ...more,
  };
}

/** A record type with a field of each family, records to run formulas on, and the host of a server: for properties. */
import { zoneOffset } from '../host/zones.ts';
import type { Environment } from '../language/expression/runtime.ts';
import { createScope, type Scope } from '../language/expression/scope.ts';
import { fieldTypeOf } from '../language/field-types/index.ts';
import type { Host } from '../language/types/host.ts';
import { phoneNumber } from '../host/phone-numbers.ts';
import { createPatterns } from '../host/patterns.ts';
import type { Field, Stored } from '../document/document.ts';
import type { Names } from './random-formulas.ts';

const options = (...names: readonly string[]) => names.map((name) => ({ key: name.toLowerCase(), name }));

export const sampleFields: readonly Field[] = [
  { key: 'count', name: 'Count', type: 'number' },
  { key: 'amount', name: 'Amount', type: 'money' },
  { key: 'name', name: 'Name', type: 'text' },
  { key: 'stop', name: 'Stop', type: 'yes/no' },
  { key: 'signed', name: 'Signed', type: 'date' },
  { key: 'sent', name: 'Sent at', type: 'date-time' },
  { key: 'stage', name: 'Stage', type: 'picklist', ordered: true, options: options('A', 'B', 'C') },
  { key: 'crops', name: 'Crops', type: 'multi-select', options: options('Apple', 'Pear') },
];

export const sampleScope: Scope = createScope({
  key: 'sample',
  name: 'Sample',
  plural: 'Samples',
  title: [],
  forms: [],
  fields: sampleFields,
});

export const sampleNames: Names = {
  number: ['Count', 'Amount'],
  text: ['Name', 'Stage'],
  boolean: ['Stop'],
  date: ['Signed'],
  'date time': ['Sent at'],
  list: ['Crops'],
};

export const fullHost: Host = {
  now: '2026-05-03T09:00:00+01:00',
  zone: 'Europe/Lisbon',
  zoneOffset,
  pattern: createPatterns(),
  phone: phoneNumber,
};

const records: readonly (readonly Stored[])[] = [
  [5, 1.25, 'Fen', true, '2026-01-02', '2026-01-02T03:04:05Z', 'b', ['apple']],
  [null, null, null, null, null, null, null, null],
  [-3, 0, 'a b', false, '2024-02-29', '2024-03-31T01:00:00Z', 'a', ['apple', 'pear']],
];

/** Each record, with the blank one as what was stored before. */
export const sampleEnvironments: readonly Environment[] = records
  .map((stored) => stored.map((v, i) => fieldTypeOf(sampleFields[i]!).read(v, sampleFields[i]!, fullHost)))
  .map((record, _, all) => ({ record, previous: all[1]!, host: fullHost }));

import { booleanType } from '../types/types.ts';
import type { FieldType } from './field-type.ts';

const words: Readonly<Record<string, boolean>> = {
  yes: true,
  no: false,
  true: true,
  false: false,
  '1': true,
  '0': false,
};

export const yesNo: FieldType<'yes/no'> = {
  key: 'yes/no',
  name: 'yes/no',
  example: true,
  column: 'yes/no',
  sql: { json: 'boolean', as: 'boolean' },
  choices: [
    { key: 'true', name: 'yes', value: true },
    { key: 'false', name: 'no', value: false },
  ],
  usualStarts: () => [
    { name: 'yes', formula: 'true' },
    { name: 'no', formula: 'false' },
  ],
  starting: false,
  typeOf: () => booleanType,
  read: (stored) => (typeof stored === 'boolean' ? stored : null),
  coerce(value) {
    if (value === null || value === undefined || value === '') return { value: null };
    const known = typeof value === 'string' ? words[value.trim().toLowerCase()] : value;
    return typeof known === 'boolean' ? { value: known } : { problem: 'is neither yes nor no' };
  },
  parse: (text) => (text.trim() === '' ? null : text),
  format: (stored) => (stored === true ? 'yes' : stored === false ? 'no' : ''),
  compare: (a, b) => Number(a) - Number(b),
  boundaryValues: () => [true, false],
};

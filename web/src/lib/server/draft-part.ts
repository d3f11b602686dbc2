import {
  findRuleKind,
  hitPolicies,
  isFieldType,
  moments,
  repeats,
  winners,
  type PartKind,
  type PartRef,
} from '@rigid-rule/core';
import { error } from '@sveltejs/kit';
import { array, boolean, mixed, number, object, string, ValidationError, type Schema } from 'yup';

const key = string()
  .matches(/^[a-z0-9][a-z0-9_-]{0,99}$/, 'A key is made of small letters, digits, - and _.')
  .required();
const name = string().max(200).defined();

const rule = object({
  key,
  recordType: key,
  name,
  purpose: string().max(2000).defined(),
  kind: string()
    .required()
    .test('kind', 'There is no such kind of rule.', (k) => findRuleKind(k ?? '') !== undefined),
  on: boolean().required(),
  position: number().integer().required(),
  wakesOn: array(string().required()),
  moments: array(
    string()
      .oneOf(moments.map((m) => m.key))
      .required(),
  ).required(),
  entryPoints: array(string().max(120).required()).required(),
  condition: string().max(20_000),
  repeat: string()
    .oneOf(repeats.map((r) => r.key))
    .required(),
  winner: string()
    .oneOf(winners.map((w) => w.key))
    .required(),
  outcome: mixed().required(),
  notify: array(object().required()),
}).noUnknown();

const field = object({
  key,
  name,
  type: string()
    .required()
    .test('type', 'There is no such field type.', (t) => isFieldType(t ?? '')),
}).required();

const named = object({ name: name.required() }).required();

const columns = array(object({ key: string().required(), name: name.required() }).required()).required();

const table = object({
  key,
  name: name.required(),
  hitPolicy: string()
    .oneOf([...hitPolicies])
    .required(),
  keepers: array(string().max(200).required()),
  keys: columns,
  outputs: columns,
  rows: array(object().required()).required(),
}).required();

const sample = object({ key: string().required(), recordType: key, data: object().required() }).required();

const test = object({
  key: string().required(),
  name,
  recordType: key,
  sent: object().required(),
  expect: object().required(),
}).required();

const schemas: Readonly<Record<PartKind, Schema>> = {
  rule,
  field,
  'record type': named,
  settings: named,
  table,
  sample,
  test,
};

/**
 * Whether a part keeps its shape, so that a draft can always be opened. What the rules mean is core's to judge: a
 * formula that does not compile may well be saved.
 * @throws 400 in words.
 */
export function checkPart({ kind, key }: PartRef, body: unknown): void {
  try {
    schemas[kind].validateSync(body, { strict: true });
    const own = (body as { key?: unknown }).key;
    if (kind !== 'settings' && own !== (kind === 'field' ? key.slice(key.indexOf('.') + 1) : key))
      error(400, 'The key of a part never changes.');
  } catch (e) {
    if (e instanceof ValidationError) error(400, e.message);
    throw e;
  }
}

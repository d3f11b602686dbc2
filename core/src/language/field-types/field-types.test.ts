/** What every field type promises, on the values at its edges; and what single types make of what is typed or sent. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Field, RecordType, Stored } from '../../document/document.ts';
import { zoneOffset } from '../../host/zones.ts';
import { RecordRef } from '../../values/value.ts';
import { runsOf } from '../../testing/runs.ts';
import { columnTypeOf } from './column-types.ts';
import { usualValues } from '../../rule-tests/inputs.ts';
import { fieldTypeOf, fieldTypes } from './index.ts';
import { isBlankStored, sameStored } from './field-type.ts';
import { recordTitle } from './record-title.ts';

const options = ['Low', 'Mid', 'High'].map((name) => ({ key: name.toLowerCase(), name }));
const field = (type: string, more: Partial<Field> = {}): Field => ({
  key: 'f',
  name: 'F',
  type,
  ...(fieldTypeOf({ type }).chooses ? { options } : {}),
  ...(fieldTypeOf({ type }).links ? { recordType: 'customer' } : {}),
  ...more,
});
const host = { zone: 'Europe/Lisbon', zoneOffset };

describe.each(fieldTypes.map((type) => [type.key, type] as const))('%s', (key, type) => {
  const own = field(key);
  const edges = usualValues(own).filter((v) => v !== null);
  const anything = fc.oneof(
    fc.constantFrom<unknown>(...edges, type.example, null, '', '  ', [], 0, -1, 1.5, true, 'yes', '2026-05-03', 'x'),
    fc.string({ maxLength: 8 }),
    fc.double(),
    fc.array(fc.constantFrom('low', 'High', 'none'), { maxLength: 3 }),
  );

  it('keeps what it stored, whatever it was made from, and reads it back', () => {
    fc.assert(
      fc.property(anything, (value) => {
        const coerced = type.coerce(value, own);
        if ('problem' in coerced) {
          expect(coerced.problem).toMatch(/^\S.*[^.]$/);
          return;
        }
        const stored = coerced.value;
        expect(type.coerce(stored, own)).toEqual({ value: stored });
        for (const h of [undefined, host])
          expect(sameStored((type.coerce(type.read(stored, own, h), own) as { value: Stored }).value, stored)).toBe(
            true,
          );
        if (!isBlankStored(stored)) expect(type.format(stored, own)).not.toBe('');
      }),
      { numRuns: runsOf(150) },
    );
  });

  it('takes nothing typed as blank, and what it shows as what it is', () => {
    for (const nothing of ['', '   ']) expect(type.coerce(type.parse(nothing, own), own)).toEqual({ value: null });
    if (type.links || type.users) return;
    for (const stored of edges) {
      const typed = type.parse(type.format(stored, own), own);
      expect([stored, type.coerce(typed, own)]).toEqual([stored, { value: stored }]);
    }
  });

  it('orders its values as numbers are ordered: one way round, and the same again', () => {
    for (const a of edges)
      for (const b of edges) {
        expect(Math.sign(type.compare(a, b, own)) + Math.sign(type.compare(b, a, own))).toBe(0);
        for (const c of edges)
          if (type.compare(a, b, own) < 0 && type.compare(b, c, own) < 0)
            expect(type.compare(a, c, own)).toBeLessThan(0);
      }
  });
});

it.each<[string, Field, unknown, Stored | RegExp]>([
  ['a number above its bound', field('number', { max: 5 }), 6, /^is above 5$/],
  ['a number that is never rounded', field('number', { scale: -1 }), 7, 7],
  ['one with decimals that is never rounded', field('number', { scale: -1 }), '0.000000000012', 1.2e-11],
  ['money that is never rounded', field('money', { scale: -1 }), 2.345, 2.345],
  ['a number below its bound', field('number', { min: 5 }), 4, /^is below 5$/],
  ['a list as an option', field('picklist'), ['low'], /./],
  ['options in the order of the field, once each', field('multi-select'), ['High', 'low', 'high'], ['low', 'high']],
  ['what is no option in a list', field('multi-select'), ['low', 5], /./],
  ['a record of another type', field('lookup'), new RecordRef('deal', '5'), /^is not a record that F can name$/],
  ['a record that is not stored yet', field('lookup'), new RecordRef('customer', ''), null],
  ['a record', field('lookup'), new RecordRef('customer', '5'), '5'],
  ['a web address', field('web address'), 'https://fen.example/a', 'https://fen.example/a'],
  ['what is no web address', field('web address'), 'javascript:1', /^is not a web address$/],
  ['a number as text', field('text'), 12.5, '12.5'],
])('%s', (_, own, value, expected) => {
  const coerced = fieldTypeOf(own).coerce(value, own);
  if (expected instanceof RegExp) expect('problem' in coerced && coerced.problem).toMatch(expected);
  else expect(coerced).toEqual({ value: expected });
});

it.each<[string, string, unknown]>([
  ['number', '1,250.5', 1250.5],
  ['number', '1 250', undefined],
  ['number', '1,25', undefined],
  ['date', '2026-05-03', '2026-05-03'],
  ['date', '3 May', undefined],
  ['yes/no', 'TRUE', true],
  ['yes/no', '0', false],
  ['yes/no', 'maybe', undefined],
  ['text', 'x', 'x'],
])('a column of %s reads %s from a sheet as %j', (type, text, cell) => {
  expect(columnTypeOf(type as never).fromSheet(text)).toEqual(cell);
});

it('a record is called by the fields of its title, as people read them', () => {
  const type: RecordType = {
    key: 'x',
    name: 'X',
    plural: 'Xs',
    forms: [],
    title: ['name', 'gone', 'level', 'day'],
    fields: [field('text', { key: 'name' }), field('picklist', { key: 'level' }), field('date', { key: 'day' })],
  };
  expect(recordTitle(type, { name: 'Fen', level: 'high' })).toBe('Fen High');
  expect(recordTitle(type, { gone: 'x' })).toBe('');
});

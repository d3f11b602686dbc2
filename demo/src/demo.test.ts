import { compileProgram, fieldTypeOf } from '@rigid-rule/core';
import { expect, it } from 'vitest';
import { draft, firstRelease, liveRecords, sampleRecords } from './index.ts';

it('gives the same records every time', () => {
  expect(JSON.stringify(liveRecords())).toBe(JSON.stringify(liveRecords()));
  expect(liveRecords().customer).toHaveLength(1200);
  expect(liveRecords().contact).toHaveLength(1800);
});

it('compiles, draft and release', () => {
  for (const rulebook of [draft, firstRelease]) expect(compileProgram(rulebook).broken).toEqual([]);
});

it.each(draft.recordTypes.map((t) => [t.key, t] as const))('every value of a %s fits its field', (key, type) => {
  for (const { data } of [...liveRecords()[key as 'customer'], ...sampleRecords()[key as 'customer']])
    for (const [name, value] of Object.entries(data)) {
      const field = type.fields.find((f) => f.key === name)!;
      expect(fieldTypeOf(field).coerce(value, field), `${name}: ${String(value)}`).toEqual({ value });
    }
});

it('is untidy on purpose: blanks, zeros, double spaces, stale classes, names twice', () => {
  const customers = liveRecords().customer.map((c) => c.data);
  const names = customers.map((c) => String(c['name']).trim());
  expect(customers.filter((c) => c['employee_count'] === undefined).length).toBeGreaterThan(5);
  expect(customers.filter((c) => c['employee_count'] === 0).length).toBeGreaterThan(20);
  expect(customers.filter((c) => String(c['name']).includes('  ')).length).toBeGreaterThan(5);
  expect(
    customers.filter((c) => c['size_class'] === undefined && c['employee_count'] !== undefined).length,
  ).toBeGreaterThan(10);
  expect(new Set(names).size).toBeLessThan(names.length);
});

import { expect, it } from 'vitest';
import { compileProgram } from '../compile/program.ts';
import { fieldTypeOf } from '../language/field-types/index.ts';
import { dealBook, dealTypes } from '../testing/deals.ts';
import { customerType, rulebookOf, sizeClass } from '../testing/customers.ts';
import { generateRecords } from './generate.ts';

const program = compileProgram(rulebookOf(sizeClass));
const take = (n: number, options: Parameters<typeof generateRecords>[2] = {}) => {
  const found = [];
  for (const data of generateRecords(program, 'customer', options)) if (found.push(data) === n) break;
  return found;
};

it('made-up records fit their fields, stand at the boundaries, and are the same for the same seed', () => {
  const records = take(400, { seed: 3 });
  for (const data of records)
    for (const [key, value] of Object.entries(data)) {
      const field = customerType.fields.find((f) => f.key === key)!;
      expect(fieldTypeOf(field).coerce(value, field)).toEqual({ value });
    }
  const counts = new Set(records.map((r) => r['count'] ?? null));
  for (const n of [9, 10, 49, 50, 249, 250, null]) expect(counts).toContain(n);
  expect(take(400, { seed: 3 })).toEqual(records);
  expect(take(400, { seed: 4 })).not.toEqual(records);
});

it('links lead to records that there are, users to nobody, and what is not there is not made up', () => {
  const book = dealBook([], {
    recordTypes: dealTypes.map((t) =>
      t.key === 'contact' ? { ...t, fields: [...t.fields, { key: 'owner', name: 'Owner', type: 'user' }] } : t,
    ),
  });
  const made = (count: number, options: Parameters<typeof generateRecords>[2]) => {
    const records = generateRecords(compileProgram(book), 'contact', options);
    return Array.from({ length: count }, () => records.next().value!);
  };
  const linked = made(200, { seed: 1, links: (type) => (type === 'customer' ? 3 : 0) });
  expect([...new Set(linked.map((r) => r['customer'] ?? null))].sort()).toEqual(['1', '2', '3', null]);
  expect(linked.filter((r) => 'owner' in r)).toEqual([]);
  expect(new Set(linked.map((r) => 'last' in r))).toEqual(new Set([true, false]));
  expect(made(20, {}).filter((r) => 'customer' in r)).toEqual([]);
  expect(
    made(2, { pairs: ['answer', 'gone', 'last'] })
      .map((r) => r['answer'])
      .sort(),
  ).toEqual(['no', 'yes']);
  expect([...generateRecords(compileProgram(book), 'gone')]).toEqual([]);
});

it('every two options of chosen picklists stand together in the first records', () => {
  const together = new Set(
    take(8, { pairs: ['class', 'kind'] }).map((r) => `${String(r['class'])} ${String(r['kind'])}`),
  );
  expect(together.size).toBe(8);
});

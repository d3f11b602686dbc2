import { expect, it } from 'vitest';
import { compileProgram } from '../compile/program.ts';
import { fieldTypeOf } from '../language/field-types/index.ts';
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

it('every two options of chosen picklists stand together in the first records', () => {
  const together = new Set(
    take(8, { pairs: ['class', 'kind'] }).map((r) => `${String(r['class'])} ${String(r['kind'])}`),
  );
  expect(together.size).toBe(8);
});

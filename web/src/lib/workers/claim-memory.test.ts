import type { Claim, Rulebook, SampleRecord } from '@rigid-rule/core/document';
import { expect, it } from 'vitest';
import { rulebookOf, sizeClass } from '../../../../core/src/testing/customers.ts';
import { ClaimMemory } from './claim-memory.ts';

const claim: Claim = { key: 'c', name: 'C', recordType: 'customer', condition: 'true' };
const book: Rulebook = { ...rulebookOf(sizeClass), claims: [claim] };
const sample: SampleRecord = { key: 's', recordType: 'customer', data: {} };
const result = { result: { claim: 'c' } as never, seconds: 4 };

it.each<readonly [string, Rulebook, readonly SampleRecord[], Claim, boolean]>([
  ['nothing changed', book, [sample], claim, true],
  ['a test was made', { ...book, tests: [] }, [sample], claim, true],
  ['lists were put together anew', { ...book, rules: [...book.rules] }, [sample], claim, true],
  ['the claim says something else', book, [sample], { ...claim, condition: 'false' }, false],
  ['a rule says something else', { ...book, rules: [{ ...sizeClass, on: false }] }, [sample], claim, false],
  ['a rule is gone', { ...book, rules: [] }, [sample], claim, false],
  ['a table came', { ...book, tables: [{ key: 't' } as never] }, [sample], claim, false],
  ['the zone is another', { ...book, zone: 'UTC' }, [sample], claim, false],
  ['users are of another type', { ...book, userRecordType: 'contact' }, [sample], claim, false],
  ['other samples are tried', book, [], claim, false],
])('what a claim came to where %s', (_, now, samples, asked, known) => {
  const memory = new ClaimMemory();
  memory.standOn(book, [sample]);
  memory.keep(claim, result);
  memory.standOn(now, samples);
  expect(memory.of(asked)).toBe(known ? result : undefined);
});

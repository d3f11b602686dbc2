import { compileProgram } from '@rigid-rule/core/compile';
import type { RuleTest } from '@rigid-rule/core/document';
import { createPatterns } from '@rigid-rule/core/host/patterns';
import { phoneNumber } from '@rigid-rule/core/host/phone-numbers';
import { zoneOffset } from '@rigid-rule/core/host/zones';
import { firstOffers, offersFor, runTests, StrengthMeter } from '@rigid-rule/core/rule-tests';
import { describe, expect, it } from 'vitest';
import { draft } from './index.ts';

const host = { zoneOffset, phone: phoneNumber, pattern: createPatterns() };

describe('without its tests every rule of the demo is proved by a few that are proposed', () => {
  const program = compileProgram({ ...draft, tests: [] }, host);
  // The records of its tests are lent to what is proposed; what they expect is not.
  const lenders = (draft.tests ?? []).map((t): RuleTest => ({ ...t, expect: {} }));
  const meter = new StrengthMeter(program, lenders);
  const rules = [...program.types.values()].flatMap((type) =>
    type.rules.filter((r) => r.compiles && r.rule.on).map((r) => [r.rule.key, r, type] as const),
  );
  it.each(rules)('%s', (_, r, type) => {
    const { offers } = firstOffers(offersFor(r, type, meter, new Set()));
    expect(offers.length).toBeGreaterThan(0);
    expect(offers.length).toBeLessThanOrEqual(12);
    expect(offers.at(-1)!.strengthAfter).toBeGreaterThanOrEqual(0.8);
    // Confirmed, they hold, and each fault that they were proposed for is seen.
    const tests = offers.map((o) => o.test);
    expect(runTests(program, tests).flatMap((t) => t.failures)).toEqual([]);
    expect(offers.flatMap((o) => o.adds.faults).length).toBeGreaterThan(0);
  });
});

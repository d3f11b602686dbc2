import { describe, expect, it } from 'vitest';
import { compileProgram } from '../compile/program.ts';
import { customerType, rulebookOf, sizeClass } from '../testing/customers.ts';
import { ruleOf, setTo } from '../testing/deals.ts';
import type { Rule, Rulebook } from '../document/document.ts';
import { checkClaims, type ClaimResult } from './claims.ts';

const everywhere = ['form:full', 'form:short', 'import', 'api', 'bulk', 'conversion', 'rule', 'backfill'];
const sized: Rule = { ...sizeClass, moments: ['creating', 'updating'], entryPoints: everywhere };
const check = (rules: readonly Rule[], condition: string, more: Partial<Rulebook> = {}): ClaimResult => {
  const book = { ...rulebookOf(...rules), ...more };
  const claims = [{ key: 'c', name: 'Claim', recordType: 'customer', condition }];
  return checkClaims(compileProgram({ ...book, claims }), { most: 3000 })[0]!;
};

describe('a claim', () => {
  it.each<[string, readonly Rule[], string, ClaimResult['state']]>([
    ['that regions prove', [sized], 'if Employee count >= 250 then Size class = "Large" else true', 'sure'],
    ['about a class that no band gives', [sized], 'Size class != "Large" or Employee count > 100', 'sure'],
    ['that nothing makes true', [], 'Rank > 0', 'broken'],
    ['that blank breaks', [sized], 'Employee count > -5', 'broken'],
    [
      'about what is computed is tried, never sure',
      [
        ruleOf('customer', 'derive', setTo('rank', 'string length(Name)'), {
          moments: ['creating', 'updating'],
          entryPoints: everywhere,
          winner: 'rule',
        }),
      ],
      'Rank >= 0 or Rank < 0 or Rank = null',
      'tried',
    ],
    ['that cannot be read', [], 'Nothing such > 1', 'cannot be read'],
    ['that is no condition', [], 'Employee count', 'cannot be read'],
  ])('%s: %s', (_, rules, condition, state) => {
    expect(check(rules, condition)).toMatchObject({ state });
  });

  it('is broken through the one entry point that the rule leaves out, by as little as can be', () => {
    const hole: Rule = { ...sized, entryPoints: everywhere.filter((e) => e !== 'import') };
    const { counterexample, saved } = check([hole], 'if Employee count >= 250 then Size class = "Large" else true');
    expect(counterexample).toMatchObject({ entryPoint: 'import', before: null, moment: 'creating' });
    expect(Object.keys(counterexample!.sent).sort()).toEqual(['count', 'name']);
    expect(saved!['class']).toBeUndefined();
  });

  it('sees what comes of a second change, too', () => {
    const once: Rule = { ...sized, moments: ['creating'] };
    const { state, counterexample } = check([once], 'if Employee count >= 250 then Size class = "Large" else true');
    expect([state, counterexample?.moment]).toEqual(['broken', 'updating']);
  });

  it('is told as tried where time is up before all is looked at', () => {
    const claims = [
      { key: 'c', name: 'C', recordType: 'customer', condition: 'Size class != "Large" or Employee count > 100' },
    ];
    const program = compileProgram({ ...rulebookOf(sized), claims });
    expect(checkClaims(program, { timeIsUp: () => true })[0]!.state).toBe('tried');
  });
});

it('the type that claims are checked on has the entry points that they name', () => {
  expect(customerType.forms.map((f) => `form:${f.key}`)).toEqual(everywhere.slice(0, 2));
});

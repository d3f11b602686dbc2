/** Tests that are suggested hold, whatever the rule and whenever it acts; some of them make it act where anything can. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compileProgram } from '../compile/program.ts';
import type { Moment, Rule } from '../document/document.ts';
import { dealBook, dealRecords, mapOf, outputOf, pairsOf, ruleOf, setTo } from '../testing/deals.ts';
import { randomRulebook } from '../testing/random-rulebooks.ts';
import { runsOf } from '../testing/runs.ts';
import { runTest } from './run.ts';
import { suggestFor, suggestTests } from './suggest.ts';

const someMoments = fc.constantFrom<readonly Moment[]>(
  ['creating'],
  ['updating'],
  ['creating', 'updating'],
  ['editing'],
);
const someEntries = fc.subarray(
  ['form:full', 'form:short', 'import', 'api', 'bulk', 'conversion', 'rule', 'backfill'],
  {
    minLength: 1,
  },
);

it('hold, each with an input of its own', () => {
  fc.assert(
    fc.property(randomRulebook, someMoments, someEntries, (book, moments, entryPoints) => {
      const program = compileProgram({ ...book, rules: book.rules.map((r) => ({ ...r, moments, entryPoints })) });
      const suggested = suggestTests(program, { trace: true });
      for (const { test } of suggested) expect(runTest(program, test).failures).toEqual([]);
      const inputs = suggested.map(({ rule, test: { before, sent, moment, entryPoint } }) =>
        JSON.stringify([rule, before, sent, moment, entryPoint]),
      );
      expect(new Set(inputs).size).toBe(inputs.length);
    }),
    { numRuns: runsOf(40) },
  );
});

describe('show the rule at work', () => {
  const at = (moment: Moment): Partial<Rule> => ({ moments: [moment] });
  const north = setTo('currency', '"NOK"', { blank: 'clear' });
  const condition = 'Home country = "Norway" and Size class > "Micro" or is blank(Region)';
  const rules: readonly (readonly [string, Rule, readonly string[]])[] = [
    [
      'on new records',
      ruleOf('customer', 'derive', north, { ...at('creating'), condition }),
      ['deciding', 'pair', 'value'],
    ],
    [
      'on stored records',
      ruleOf('customer', 'derive', north, { ...at('updating'), condition }),
      ['deciding', 'transition'],
    ],
    [
      'against who typed',
      ruleOf('customer', 'derive', setTo('currency', 'Home country'), { ...at('updating'), winner: 'later' }),
      ['winner', 'value'],
    ],
    ['what is required', ruleOf('customer', 'validate', { required: ['phone'], hidden: ['open'] }), ['entry']],
  ];
  it.each(rules)('%s', (_, rule, kinds) => {
    const program = compileProgram(dealBook([rule]));
    expect(program.broken).toEqual([]);
    const suggested = suggestTests(program);
    expect([...new Set(suggested.map((s) => s.kind))]).toEqual(expect.arrayContaining([...kinds]));
    expect(suggested.some((s) => s.test.expect.ran?.includes(rule.key) || s.test.expect.states)).toBe(true);
    for (const { test } of suggested) expect(runTest(program, test).failures).toEqual([]);
  });

  it.each<[string, readonly number[]]>([
    ['Amount in ([1..5])', [1, 5]],
    ['Amount in ([7, 8], < 2)', [7, 8, 2]],
    ['Amount between 3 and 4', [3, 4]],
    ['6 < Amount', [6]],
    ['Amount in [9]', [9]],
  ])('around each number that is compared: %s', (condition, numbers) => {
    const program = compileProgram(dealBook([ruleOf('deal', 'derive', setTo('title', '"x"'), { condition })]));
    const type = program.types.get('deal')!;
    const sent = new Set(suggestFor(type.rules[0]!, type, program).map((s) => s.test.sent['amount']));
    expect(numbers.filter((n) => !sent.has(n))).toEqual([]);
  });

  it('pairs of a text: each of them, and one that is none', () => {
    const program = compileProgram(
      dealBook([
        mapOf('deal', pairsOf('Title', ['Plan', 'x'], ['Fit', 'y']), [outputOf('postcode')], 'customer'),
        mapOf('deal', pairsOf('Title', ['Plan', 'Plan'], ['Fit', 'Install']), [outputOf('kind')]),
      ]),
    );
    const type = program.types.get('deal')!;
    for (const r of type.rules) {
      const sent = suggestFor(r, type, program).map((s) => s.test.sent['title']);
      expect(sent).toEqual(expect.arrayContaining(['Plan', 'Fit', 'no such value']));
    }
  });

  it.each<[string, Rule]>([
    ['reads', ruleOf('deal', 'derive', setTo('title', 'Customer.Name'), { condition: 'Customer.Name != null' })],
    ['writes', mapOf('deal', pairsOf('Deal kind', ['Plan', '4100']), [outputOf('postcode')], 'customer')],
  ])('with records that are made up, where it %s some and no test lends any', (_, rule) => {
    const program = compileProgram(dealBook([rule]));
    const type = program.types.get('deal')!;
    const suggested = suggestFor(type.rules[0]!, type, program);
    expect(suggested.some(({ test: { expect: e } }) => e.fields?.['title'] || e.related?.length)).toBe(true);
    for (const { test } of suggested) expect(runTest(program, test).failures).toEqual([]);
  });

  it('with the records that a test lends, where it asks for some', () => {
    const title = ruleOf('deal', 'derive', setTo('title', 'Customer.Name'), {
      condition: `Customer.Name = "${String(dealRecords[0]!.data['name'])}"`,
    });
    const program = compileProgram(dealBook([title]));
    const type = program.types.get('deal')!;
    const acting = (known: Parameters<typeof suggestFor>[4]): boolean =>
      suggestFor(type.rules[0]!, type, program, {}, known).some((s) => s.test.expect.ran?.includes(title.key));
    const [customer] = dealRecords;
    expect(acting([])).toBe(false);
    const lent = {
      key: 'k',
      name: 'K',
      recordType: 'deal',
      before: null,
      related: [{ recordType: 'customer', key: '1', data: customer!.data }],
      origin: { recordType: 'contact', data: {} },
      user: { id: '1', name: 'Ana', email: 'ana@alder.example', role: 'sales' },
      sent: { customer: '1' },
      moment: 'creating',
      entryPoint: 'api',
      now: '2026-05-03T09:00:00Z',
      expect: {},
    } as const;
    expect(acting([{ ...lent, recordType: 'contact' }])).toBe(false);
    expect(acting([lent])).toBe(true);
  });
});

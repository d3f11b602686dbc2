/** Planted faults say in the words of the screen what they leave out. */
import { plainWriting } from '../language/types/writing.ts';
import { expect, it } from 'vitest';
import { compileProgram } from '../compile/program.ts';
import type { Rule } from '../document/document.ts';
import { dealBook, ruleOf, setTo, mapOf, outputOf, pairsOf } from '../testing/deals.ts';
import { findRuleKind } from '../compile/rule-kinds/index.ts';
import { mutantsOfRule } from './mutants.ts';

it.each<[string, Rule, readonly string[]]>([
  [
    'what is asked',
    ruleOf('deal', 'validate', { checks: [], required: ['title'], hidden: ['cost'], locked: ['previous'], limits: [] }),
    ['Title required left out', 'Cost hidden left out', 'Previous stage locked left out'],
  ],
  [
    'a limit',
    ruleOf('customer', 'validate', {
      limits: [
        {
          field: 'crops',
          source: 'Home country',
          grid: [{ value: 'Norway', allowed: ['Apple'] }],
          otherwise: 'all',
          message: 'No.',
        },
      ],
    }),
    ['the limit on Crops left out'],
  ],
  [
    'matches and outputs',
    mapOf(
      'contact',
      {
        by: 'match',
        recordType: 'customer',
        ways: [
          { field: 'name', formula: 'Firm as given', mode: 'folded' },
          { field: 'phone', formula: 'Email', mode: 'exact' },
        ],
      },
      [outputOf('customer'), outputOf('last', 'match.Name')],
    ),
    ['matching by Name left out', 'matching by Phone left out', 'Customer not written', 'Last name not written'],
  ],
  [
    'outputs on a linked record',
    mapOf('deal', pairsOf('Stage', ['Won', 'large']), [outputOf('size')], 'customer'),
    ['the pair of Won left out'],
  ],
  [
    'steps',
    ruleOf('deal', 'derive', {
      steps: [
        { target: '', scratch: 'half', formula: 'Amount / 2', blank: 'clear' },
        { target: 'cost', scratch: '', formula: 'half', blank: 'clear' },
      ],
    }),
    ['step 1 (half) left out', 'step 2 (Cost) left out'],
  ],
  [
    'what wakes it',
    ruleOf('deal', 'derive', setTo('cost', 'Amount / 2'), { wakesOn: ['stage', 'amount'] }),
    ['not woken by Stage', 'not woken by Amount'],
  ],
  [
    'values of pairs',
    mapOf('customer', pairsOf('Home country', ['Spain', 'south'], ['Norway', 'north'], ['Chile', 'north']), [
      outputOf('region'),
    ]),
    [
      'the pair of Spain left out',
      'the values of Spain and Norway exchanged',
      'the pair of Norway left out',
      'the pair of Chile left out',
    ],
  ],
  [
    'bands, by the step of the field, and their outer ends',
    ruleOf('deal', 'categorize', {
      source: 'Discount',
      target: 'kind',
      bands: [
        { from: 0, to: 0.1, result: 'plan' },
        { from: 0.1, to: 1, toClosed: true, result: 'install' },
      ],
      blank: { do: 'clear' },
      outside: { do: 'clear' },
    }),
    [
      'the beginning 0 moved to −0.0001',
      'the beginning 0 moved to 0.0001',
      'the beginning 0 given to the other side',
      'the end 1 moved to 0.9999',
      'the end 1 moved to 1.0001',
      'the end 1 given to the other side',
      'the boundary 0.1 moved to 0.0999',
      'the boundary 0.1 moved to 0.1001',
      'the boundary 0.1 given to the other side',
      'the results of “from 0, below 0.1” and “from 0.1, up to 1” exchanged',
    ],
  ],
  [
    'bands of days',
    ruleOf('customer', 'categorize', {
      source: 'Reviewed on',
      target: 'size',
      bands: [
        { to: '2026-01-01', result: 'micro' },
        { from: '2026-01-01', result: 'small' },
      ],
      blank: { do: 'clear' },
      outside: { do: 'clear' },
    }),
    [
      'the boundary 2026-01-01 moved to 2025-12-31',
      'the boundary 2026-01-01 moved to 2026-01-02',
      'the boundary 2026-01-01 given to the other side',
      'the results of “before 2026-01-01” and “from 2026-01-01” exchanged',
    ],
  ],
  [
    'groups',
    ruleOf('customer', 'categorize', {
      source: 'Home country',
      target: 'region',
      groups: [
        { values: ['Spain', 'Chile'], result: 'south' },
        { values: ['Norway'], result: 'north' },
      ],
      blank: { do: 'clear' },
      outside: { do: 'clear' },
    }),
    [
      'Spain left out of its group',
      'Chile left out of its group',
      'the results of “Spain, Chile” and “Norway” exchanged',
      'Norway left out of its group',
    ],
  ],
])('planted faults call %s by name', (_, rule, expected) => {
  const program = compileProgram(dealBook([rule]));
  const type = program.types.get(rule.recordType)!;
  expect(program.broken.flatMap((r) => r.diagnostics.map((d) => d.message))).toEqual([]);
  const texts = mutantsOfRule(type.rules[0]!, type, program.rulebook)
    .filter((m) => ['outcome', 'wake'].includes(m.kind))
    .map((m) => m.text);
  expect(texts).toEqual(expected);
});

it.each<[string, Rule, readonly (string | undefined)[]]>([
  ['pairs', mapOf('deal', pairsOf('Stage', ['Won', 'x']), [outputOf('title')]), ['Won', undefined]],
  [
    'a table',
    mapOf('customer', { by: 'table', table: 'countries', keys: {} }, [outputOf('region', 'region')]),
    ['row 1', 'row 2'],
  ],
  ['a match', mapOf('contact', { by: 'match', recordType: 'customer', ways: [] }, [outputOf('customer')]), [undefined]],
  ['bands', ruleOf('customer', 'categorize', { bands: [{ to: 5, result: 'a' }] }), ['below 5', undefined]],
  ['groups', ruleOf('customer', 'categorize', { groups: [{ values: ['a', 'b'], result: 'c' }] }), ['a, b', undefined]],
])('branches are called by what they are: %s', (_, rule, texts) => {
  const kind = findRuleKind(rule.kind)!;
  expect(texts.map((_, branch) => kind.branchText?.(rule.outcome, branch, plainWriting))).toEqual(texts);
  const told = kind.branches!(rule.outcome, dealBook([]), plainWriting).map((b) => b.text);
  expect(told.slice(-2)).toEqual(['blank', rule.kind === 'map' ? 'no match' : 'outside']);
});

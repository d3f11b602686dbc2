/** Planted faults say in the words of the screen what they leave out. */
import { expect, it } from 'vitest';
import { compileProgram } from '../compile/program.ts';
import type { Rule } from '../document/document.ts';
import { dealBook, ruleOf, setTo } from '../testing/deals.ts';
import { mutantsOfRule } from './mutants.ts';

const leave = { do: 'leave' };
const map = (type: string, source: object, outputs: readonly object[], onto = ''): Rule =>
  ruleOf(type, 'map', { source, onto, outputs, blank: leave, none: leave, several: leave });
const out = (target: string, value = '') => ({ target, value, way: 'replace' });

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
    map(
      'contact',
      {
        by: 'match',
        recordType: 'customer',
        ways: [
          { field: 'name', formula: 'Firm as given', mode: 'folded' },
          { field: 'phone', formula: 'Email', mode: 'exact' },
        ],
      },
      [out('customer'), out('last', 'match.Name')],
    ),
    ['matching by Name left out', 'matching by Phone left out', 'Customer not written', 'Last name not written'],
  ],
  [
    'outputs on a linked record',
    map('deal', { by: 'pairs', formula: 'Stage', pairs: [{ from: 'Won', to: 'large' }] }, [out('size')], 'customer'),
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
])('planted faults call %s by name', (_, rule, expected) => {
  const program = compileProgram(dealBook([rule]));
  const type = program.types.get(rule.recordType)!;
  expect(program.broken.flatMap((r) => r.diagnostics.map((d) => d.message))).toEqual([]);
  const texts = mutantsOfRule(type.rules[0]!, type, program.rulebook)
    .filter((m) => ['outcome', 'wake'].includes(m.kind))
    .map((m) => m.text);
  expect(texts).toEqual(expected);
});

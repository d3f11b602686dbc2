/** What is said of conditions without running them holds when they are run, on every record of a small world. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { createCondition, type Formula } from '../language/expression/formula.ts';
import { createScope } from '../language/expression/scope.ts';
import { fieldTypeOf } from '../language/field-types/index.ts';
import type { Value } from '../values/value.ts';
import type { Field, Stored } from '../document/document.ts';
import { canFail, canHold, canHoldTogether, canReach, type Condition, type Possible } from './reasoning.ts';

const options = (...names: readonly string[]) => names.map((name) => ({ key: name.toLowerCase(), name }));
const fields: readonly Field[] = [
  { key: 'amount', name: 'Amount', type: 'number' },
  { key: 'stage', name: 'Stage', type: 'picklist', ordered: true, options: options('Low', 'Middle', 'High') },
  { key: 'kind', name: 'Kind', type: 'picklist', options: options('New', 'Old') },
  { key: 'stop', name: 'Stop', type: 'yes/no' },
  { key: 'signed', name: 'Signed', type: 'date' },
  { key: 'name', name: 'Name', type: 'text' },
];
const scope = createScope({ key: 'r', name: 'R', plural: 'Rs', title: [], forms: [], fields });

/** Constants of the conditions, and of each field values on them, between them and beyond. */
const numbers = ['0', '5', '10', '-5'];
const days = ['2026-05-01', '2026-05-03'];
const world: readonly (readonly Stored[])[] = [
  [null, -6, -5, -2.5, 0, 2.5, 5, 7.5, 10, 11],
  [null, 'low', 'middle', 'high'],
  [null, 'new', 'old'],
  [null, true, false],
  [null, '2026-04-30', '2026-05-01', '2026-05-02', '2026-05-03', '2026-05-04'],
  [null, 'Fen'],
];
const product = (lists: readonly (readonly Stored[])[]): Stored[][] =>
  lists.reduce<Stored[][]>((all, list) => all.flatMap((head) => list.map((v) => [...head, v])), [[]]);
const records: readonly (readonly Value[])[] = product(world).map((stored) =>
  stored.map((v, i) => fieldTypeOf(fields[i]!).read(v, fields[i]!)),
);

const pick = (...texts: readonly string[]) => fc.constantFrom(...texts);
const number = pick(...numbers);
const day = pick(...days).map((d) => `date("${d}")`);
const stage = pick('"Low"', '"Middle"', '"High"');
const kind = pick('"New"', '"Old"');
const operator = pick('=', '!=', '<', '<=', '>', '>=');
const equality = pick('=', '!=');
const join = (...parts: readonly fc.Arbitrary<string>[]) => fc.tuple(...parts).map((texts) => texts.join(' '));
const interval = (of: fc.Arbitrary<string>) =>
  fc.tuple(pick('[', '('), of, of, pick(']', ')')).map(([a, low, high, b]) => `${a}${low}..${high}${b}`);

const atom = fc.oneof(
  join(fc.constant('Amount'), operator, number),
  join(number, operator, fc.constant('Amount')),
  join(fc.constant('Amount between'), number, fc.constant('and'), number),
  join(fc.constant('Amount in'), interval(number)),
  fc.tuple(number, number).map(([a, b]) => `Amount in (${a}, > ${b})`),
  join(fc.constant('Amount'), equality, fc.constant('null')),
  join(fc.constant('Stage'), operator, stage),
  fc.tuple(stage, stage).map(([a, b]) => `Stage in (${a}, ${b})`),
  join(fc.constant('Kind'), equality, kind),
  fc.tuple(kind, kind).map(([a, b]) => `Kind in [${a}, ${b}]`),
  fc.constant('Stop'),
  join(fc.constant('Stop'), equality, pick('true', 'false')),
  join(fc.constant('Signed'), operator, day),
  join(fc.constant('Signed in'), interval(day)),
  join(fc.constant('Signed between'), day, fc.constant('and'), day),
  pick('is blank(Amount)', 'is blank(Stage)', 'Name = "Fen"', 'Name = null', 'true', 'false', 'contains(Name, "e")'),
);
const condition = fc.letrec<{ any: string }>((tie) => ({
  any: fc.oneof(
    { depthSize: 'small', withCrossShrink: true },
    atom,
    fc.tuple(tie('any'), pick('and', 'or'), tie('any')).map(([a, o, b]) => `(${a}) ${o} (${b})`),
    tie('any').map((a) => `not(${a})`),
  ),
})).any;

const truths = ({ evaluate }: Formula): readonly boolean[] =>
  records.map((record) => evaluate!({ record, previous: record, host: {} }) === true);
const conditionOf = (text: string): Formula & Condition => {
  const formula = createCondition(text, scope);
  expect([text, formula.diagnostics.filter((d) => d.severity === 'error')]).toEqual([text, []]);
  return formula as Formula & Condition;
};
/** `never`: there is no such record; `yes`: there is one. */
function holds(said: Possible, found: readonly boolean[], what: string): void {
  if (said === 'never') expect([what, found.includes(true)]).toEqual([what, false]);
  if (said === 'yes') expect([what, found.includes(true)]).toEqual([what, true]);
}

describe('what is said of conditions without running them', () => {
  it('whether one can hold and can fail', () => {
    const said = { yes: 0, never: 0, unknown: 0 };
    fc.assert(
      fc.property(condition, (text) => {
        const c = conditionOf(text);
        const found = truths(c);
        const [hold, fail] = [canHold(c, scope, fields), canFail(c, scope, fields)];
        said[hold]++;
        holds(hold, found, `${text} holds`);
        holds(
          fail,
          found.map((t) => !t),
          `${text} fails`,
        );
      }),
      { numRuns: 150 },
    );
    expect(said.yes + said.never, 'most is known').toBeGreaterThan(said.unknown);
  });

  it('whether two can hold together', () => {
    fc.assert(
      fc.property(condition, condition, (a, b) => {
        const [one, two] = [conditionOf(a), conditionOf(b)];
        const [left, right] = [truths(one), truths(two)];
        holds(
          canHoldTogether(one, two, scope, fields),
          left.map((t, i) => t && right[i]!),
          `${a} | ${b}`,
        );
        expect(canHoldTogether(undefined, one, scope, fields)).toBe(canHold(one, scope, fields));
      }),
      { numRuns: 80 },
    );
  });

  it('whether a condition leaves a field some value of a region', () => {
    const source = conditionOf('Amount = 0');
    fc.assert(
      fc.property(
        condition,
        fc.constantFrom(-5, 0, 5),
        fc.constantFrom(0, 5, 10),
        fc.boolean(),
        (text, low, high, open) => {
          const c = conditionOf(text);
          const region = { blank: false, spans: [{ low, high, lowOpen: open, highOpen: false }] };
          const amount = { ...source, text: 'Amount', expression: createCondition('Amount', scope).expression! };
          const inside = (n: Value) => typeof n === 'number' && (open ? n > low : n >= low) && n <= high;
          const found = truths(c).map((t, i) => t && inside(records[i]![0]!));
          holds(canReach(c, amount, region, scope, fields), found, `${text} within ${low} to ${high}`);
        },
      ),
      { numRuns: 80 },
    );
  });
});

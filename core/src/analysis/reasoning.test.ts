/** What is said of conditions without running them holds when they are run, on every record of a small world. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { createCondition, createFormula, type Formula } from '../language/expression/formula.ts';
import { createScope } from '../language/expression/scope.ts';
import { fieldTypeOf } from '../language/field-types/index.ts';
import type { Value } from '../values/value.ts';
import type { Field, Stored } from '../document/document.ts';
import { runsOf } from '../testing/runs.ts';
import { canFail, canHold, canHoldTogether, canReach, type Condition, type Possible } from './reasoning.ts';

const options = (...names: readonly string[]) => names.map((name) => ({ key: name.toLowerCase(), name }));
const fields: readonly Field[] = [
  { key: 'amount', name: 'Amount', type: 'number' },
  { key: 'count', name: 'Count', type: 'number', scale: 0, min: -6, max: 10 },
  { key: 'stage', name: 'Stage', type: 'picklist', ordered: true, options: options('Low', 'Middle', 'High') },
  { key: 'kind', name: 'Kind', type: 'picklist', options: options('New', 'Old') },
  { key: 'crops', name: 'Crops', type: 'multi-select', options: options('Rye', 'Oats') },
  { key: 'stop', name: 'Stop', type: 'yes/no' },
  { key: 'signed', name: 'Signed', type: 'date' },
  { key: 'seen', name: 'Seen', type: 'date-time' },
  { key: 'every', name: 'Every', type: 'duration' },
  { key: 'name', name: 'Name', type: 'text' },
];
const scope = createScope({ key: 'r', name: 'R', plural: 'Rs', title: [], forms: [], fields });

/** Constants of the conditions, and of each field values on them, between them and beyond: all that can be told apart. */
const numbers = ['0', '5', '10', '-5', '5.5', '6'];
const days = ['2026-05-01', '2026-05-03', '2026-05-04'];
const world: readonly (readonly Stored[])[] = [
  [null, -6, -5, -2.5, 0, 2.5, 5, 5.25, 5.5, 5.75, 6, 7.5, 10, 11],
  [null, -6, -5, -4, 0, 4, 5, 6, 7, 9, 10],
  [null, 'low', 'middle', 'high'],
  [null, 'new', 'old'],
  [null, ['rye'], ['oats'], ['rye', 'oats']],
  [null, true, false],
  [null, '2026-04-30', '2026-05-01', '2026-05-02', '2026-05-03', '2026-05-04', '2026-05-05'],
  [null, '2026-04-30T09:00:00Z', '2026-05-01T00:00:00Z', '2026-05-02T09:00:00Z'],
  [null, 'PT1H', 'P1D', 'P2D'],
  [null, 'Fen', 'Hen', 'Orb'],
];
const product = (lists: readonly (readonly Stored[])[]): Stored[][] =>
  lists.reduce<Stored[][]>((all, list) => all.flatMap((head) => list.map((v) => [...head, v])), [[]]);
/** All records that differ in the fields that conditions read. */
const recordsFor = (...conditions: readonly Formula[]): readonly (readonly Value[])[] => {
  const read = new Set(conditions.flatMap((c) => c.reads.map((r) => r.field.slot as number)));
  return product(world.map((values, slot) => (read.has(slot) ? values : values.slice(0, 1)))).map((stored) =>
    stored.map((v, i) => fieldTypeOf(fields[i]!).read(v, fields[i]!)),
  );
};

const pick = (...texts: readonly string[]) => fc.constantFrom(...texts);
const number = pick(...numbers);
const numeric = pick('Amount', 'Count');
const day = pick(...days).map((d) => `date("${d}")`);
const stage = pick('"Low"', '"Middle"', '"High"');
const kind = pick('"New"', '"Old"');
const operator = pick('=', '!=', '<', '<=', '>', '>=');
const equalities = ['=', '!='];
const equality = pick(...equalities);
const join = (...parts: readonly fc.Arbitrary<string>[]) => fc.tuple(...parts).map((texts) => texts.join(' '));
const interval = (of: fc.Arbitrary<string>) =>
  fc.tuple(pick('[', '('), of, of, pick(']', ')')).map(([a, low, high, b]) => `${a}${low}..${high}${b}`);

const atom = fc.oneof(
  join(numeric, operator, number),
  join(number, operator, numeric),
  join(numeric, fc.constant('between'), number, fc.constant('and'), number),
  join(numeric, fc.constant('in'), interval(number)),
  fc.tuple(numeric, number, number).map(([f, a, b]) => `${f} in (${a}, > ${b})`),
  join(pick('Crops', 'Seen', 'Every', 'Count'), equality, fc.constant('null')),
  pick('is blank(Crops)', 'is blank(Seen)', 'not(is blank(Every))', 'list contains(Crops, "Rye")', 'count(Crops) > 0'),
  join(fc.constant('Seen'), operator, fc.constant('date and time("2026-05-01T00:00:00Z")')),
  join(fc.constant('Every'), operator, fc.constant('duration("P1D")')),
  join(fc.constant('Name'), equality, pick('"Fen"', '"Hen"', '""')),
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
  fc.tuple(numeric, number, number, number).map(([f, a, b, c]) => `${f} in ([${a}..${b}], ${c})`),
  join(fc.constant('Stage between'), stage, fc.constant('and'), stage),
  fc.tuple(operator, stage).map(([o, s]) => (equalities.includes(o) ? `Stage in (${s})` : `Stage in (${o} ${s})`)),
  join(fc.constant('Signed'), operator, pick(...days.map((d) => `@"${d}"`))),
  pick('Amount > Count', 'Amount in (Count)', 'Amount between Count and 10', 'Stop in (true)', 'Stop in (false, null)'),
  pick(
    'Name in ("Fen", "Orb")',
    'Amount in [Count..10]',
    'if Stop then Amount > 5 else Count > 5',
    'Signed = date(Name)',
  ),
  pick('some x in [Amount, Count] satisfies x > 5', 'Amount + 1 > 5', 'Amount > -(5)', 'null', 'Kind = Name'),
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

const truths = ({ evaluate }: Formula, records: readonly (readonly Value[])[]): readonly boolean[] =>
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
        const found = truths(c, recordsFor(c));
        const [hold, fail] = [canHold(c, scope, fields), canFail(c, scope, fields)];
        said[hold]++;
        holds(hold, found, `${text} holds`);
        holds(
          fail,
          found.map((t) => !t),
          `${text} fails`,
        );
      }),
      { numRuns: runsOf(400) },
    );
    expect(said.yes + said.never, 'most is known').toBeGreaterThan(said.unknown);
  });

  it('whether two can hold together', () => {
    fc.assert(
      fc.property(condition, condition, (a, b) => {
        const [one, two] = [conditionOf(a), conditionOf(b)];
        const records = recordsFor(one, two);
        fc.pre(records.length < 5_000);
        const [left, right] = [truths(one, records), truths(two, records)];
        holds(
          canHoldTogether(one, two, scope, fields),
          left.map((t, i) => t && right[i]!),
          `${a} | ${b}`,
        );
        expect(canHoldTogether(undefined, one, scope, fields)).toBe(canHold(one, scope, fields));
      }),
      { numRuns: runsOf(200) },
    );
  });

  it('whether a condition leaves a field some value of a region', () => {
    fc.assert(
      fc.property(
        condition,
        pick('Amount', 'Count'),
        fc.constantFrom(-5, 0, 5, 5.5),
        fc.constantFrom(0, 6, 10),
        fc.boolean(),
        fc.boolean(),
        (text, name, low, high, lowOpen, highOpen) => {
          const c = conditionOf(text);
          const source = createFormula(name, scope) as Formula & Condition;
          const inside = (n: Value) =>
            typeof n === 'number' && (lowOpen ? n > low : n >= low) && (highOpen ? n < high : n <= high);
          const records = recordsFor(c, source);
          const { slot } = source.reads[0]!.field;
          const found = truths(c, records).map((t, i) => t && inside(records[i]![slot]!));
          const region = { blank: false, spans: [{ low, high, lowOpen, highOpen }] };
          holds(canReach(c, source, region, scope, fields), found, `${text}: ${name} from ${low} to ${high}`);
        },
      ),
      { numRuns: runsOf(200) },
    );
  });
});

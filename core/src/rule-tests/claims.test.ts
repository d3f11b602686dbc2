import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compileProgram } from '../compile/program.ts';
import { customerType, rulebookOf, sizeClass } from '../testing/customers.ts';
import { ruleOf, setTo } from '../testing/deals.ts';
import { runsOf } from '../testing/runs.ts';
import { settle } from '../settle/settle.ts';
import { emptySource } from '../records/record-source.ts';
import type { Field, RecordType, Rule, Rulebook, Stored } from '../document/document.ts';
import { createCondition } from '../language/expression/formula.ts';
import { checkClaims, type ClaimResult } from './claims.ts';

const everywhere = ['form:full', 'form:short', 'import', 'api', 'bulk', 'conversion', 'rule', 'backfill'];
const sized: Rule = { ...sizeClass, moments: ['creating', 'updating'], entryPoints: everywhere };
const check = (rules: readonly Rule[], condition: string, more: Partial<Rulebook> = {}): ClaimResult => {
  const book = { ...rulebookOf(...rules), ...more };
  const claims = [{ key: 'c', name: 'Claim', recordType: 'customer', condition }];
  return checkClaims(compileProgram({ ...book, claims }), { most: 3000 })[0]!;
};

describe('a claim', () => {
  it.each<[string, string, readonly Rule[], ClaimResult['state']]>([
    ['that regions prove', 'if Employee count >= 250 then Size class = "Large" else true', [sized], 'sure'],
    ['about a class that no band gives', 'Size class != "Large" or Employee count > 100', [sized], 'sure'],
    ['that nothing makes true', 'Rank > 0', [], 'broken'],
    ['that blank breaks', 'Employee count > -5', [sized], 'broken'],
    [
      'about what is computed is tried, never sure',
      'Rank >= 0 or Rank < 0 or Rank = null',
      [
        ruleOf('customer', 'derive', setTo('rank', 'string length(Name)'), {
          moments: ['creating', 'updating'],
          entryPoints: everywhere,
          winner: 'rule',
        }),
      ],
      'tried',
    ],
    ['that cannot be read', 'Nothing such > 1', [], 'cannot be read'],
    ['that is no condition', 'Employee count', [], 'cannot be read'],
  ])('%s: %s', (_, condition, rules, state) => {
    expect(check(rules, condition)).toMatchObject({ state });
  });

  it('is about a record type that there is, and one record', () => {
    const claim = { key: 'c', name: 'C', recordType: 'ship', condition: 'true' };
    const [none] = checkClaims(compileProgram({ ...rulebookOf(), claims: [claim] }));
    expect(none).toMatchObject({ state: 'cannot be read', problem: 'There is no such record type.' });
    expect(checkClaims(compileProgram(rulebookOf()))).toEqual([]);
  });

  it('is broken through the one entry point that the rule leaves out, by as little as can be', () => {
    const hole: Rule = { ...sized, entryPoints: everywhere.filter((e) => e !== 'import') };
    const result = check([hole], 'if Employee count >= 250 then Size class = "Large" else true');
    if (result.state !== 'broken') return expect(result).toMatchObject({ state: 'broken' });
    expect(result.counterexample).toMatchObject({ entryPoint: 'import', before: null, moment: 'creating' });
    expect(Object.keys(result.counterexample.sent).sort()).toEqual(['count', 'name']);
    expect(result.saved['class']).toBeUndefined();
  });

  it('sees what comes of a second change, too', () => {
    const once: Rule = { ...sized, moments: ['creating'] };
    expect(check([once], 'if Employee count >= 250 then Size class = "Large" else true')).toMatchObject({
      state: 'broken',
      counterexample: { moment: 'updating' },
    });
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

/** Random rules and claims against random sittings of writes, on values that neither was told of. */
describe('a claim that is sure', () => {
  const options = (...names: readonly string[]) => names.map((name) => ({ key: name.toLowerCase(), name }));
  const fields: readonly Field[] = [
    { key: 'count', name: 'Count', type: 'number', scale: 0 },
    { key: 'area', name: 'Area', type: 'number' },
    { key: 'size', name: 'Size', type: 'picklist', options: options('Small', 'Large', 'Huge') },
    { key: 'stop', name: 'Stop', type: 'yes/no' },
    { key: 'name', name: 'Name', type: 'text' },
    { key: 'day', name: 'Day', type: 'date' },
  ];
  const recordType: RecordType = { ...customerType, title: ['name'], fields };
  const values: Readonly<Record<string, readonly Stored[]>> = {
    count: [null, -3, 0, 4, 5, 6, 7, 30],
    area: [null, -1, 0.5, 4.9, 5, 5.5, 6, 6.1],
    size: [null, 'small', 'large', 'huge'],
    stop: [null, true, false],
    name: [null, 'Fen', 'Alder', 'Zwick'],
    day: [null, '2026-05-01', '2026-05-02', '2026-05-03', '2027-01-01'],
  };
  const pick = fc.constantFrom;
  const atom = fc.oneof(
    fc.tuple(pick('Count', 'Area'), pick('<', '<=', '=', '!=', '>', '>='), pick(5, 6)).map((a) => a.join(' ')),
    fc.tuple(pick('Size = ', 'Size != '), pick('"Small"', '"Large"')).map((a) => a.join('')),
    pick(
      'Stop',
      'Stop = true',
      'Name = "Fen"',
      'Name != "Fen"',
      'Name = null',
      'Count = null',
      'Size = null',
      'Day != null',
    ),
    fc.tuple(pick('<', '>=', '='), pick('01', '02')).map(([o, d]) => `Day ${o} date("2026-05-${d}")`),
  );
  const plain = fc.oneof(
    atom,
    fc.tuple(atom, pick('and', 'or'), atom).map((a) => a.join(' ')),
    fc.tuple(atom, atom, atom).map(([a, b, c]) => `if ${a} then ${b} else ${c}`),
  );
  const bands = fc.uniqueArray(pick(0, 5, 6, 20), { minLength: 1, maxLength: 3 }).map((cuts) => {
    const sorted = cuts.sort((a, b) => a - b);
    return [...sorted, undefined].map((to, i) => ({
      ...(i > 0 ? { from: sorted[i - 1] } : {}),
      ...(to === undefined ? {} : { to }),
      result: ['small', 'large', 'huge', 'small'][i],
    }));
  });
  const otherwise = pick({ do: 'clear' }, { do: 'leave' }, { do: 'stop', message: 'No.' });
  const outcome = fc.oneof(
    fc.tuple(pick('Count', 'Area'), bands, otherwise).map(([source, list, blank]) => ({
      kind: 'categorize',
      outcome: { source, target: 'size', bands: list, blank, outside: { do: 'leave' } },
    })),
    fc.tuple(atom, pick('"Small"', '"Huge"'), pick('"Large"', 'null')).map(([when, a, b]) => ({
      kind: 'derive',
      outcome: setTo('size', `if ${when} then ${a} else ${b}`),
    })),
    fc.tuple(atom, pick('5', '6', 'null')).map(([when, n]) => ({
      kind: 'derive',
      outcome: setTo('count', `if ${when} then ${n} else 4`),
    })),
    fc.tuple(pick('must', 'should'), plain).map(([hold, formula]) => ({
      kind: 'validate',
      outcome: { checks: [{ hold, formula, message: 'No.' }], required: [] },
    })),
    pick({ kind: 'default', outcome: { target: 'size', value: '"Small"' } }),
  );
  const often = <T>(usual: T, other: fc.Arbitrary<T>): fc.Arbitrary<T> =>
    fc.oneof({ arbitrary: fc.constant(usual), weight: 5 }, { arbitrary: other, weight: 1 });
  const rule = fc
    .record({
      made: outcome,
      condition: often(undefined, atom),
      moments: often<Rule['moments']>(
        ['creating', 'updating'],
        fc.subarray<Rule['moments'][number]>(['creating', 'updating'], { minLength: 1 }),
      ),
      entryPoints: often(everywhere, fc.subarray(everywhere, { minLength: 5 })),
      winner: pick<Rule['winner']>('rule', 'person', 'locked', 'later'),
      repeat: often<Rule['repeat']>('every', fc.constant('wakes')),
    })
    .map(({ made, condition, ...rest }): Rule => ({
      ...ruleOf('customer', made.kind as Rule['kind'], made.outcome),
      ...rest,
      ...(condition === undefined ? {} : { condition }),
    }));
  /** Claims that rules may well keep: what a check says, or what comes of a formula. */
  const claimOf = (rules: readonly Rule[], by: number, other: string): string => {
    const { kind, outcome: o } = (rules[by % Math.max(rules.length, 1)] ?? {}) as Rule;
    const { checks, steps } = (o ?? {}) as {
      checks?: { formula: string }[];
      steps?: { target: string; formula: string }[];
    };
    if (kind === 'validate') return by % 2 ? checks![0]!.formula : `(${checks![0]!.formula}) or (${other})`;
    const [, when, then] = /^if (.*) then (.*) else/.exec(steps?.[0]?.formula ?? '') ?? [];
    const target = steps?.[0]?.target === 'size' ? 'Size' : 'Count';
    return when
      ? `if ${when} then ${target} = ${then!} else ${by % 2 ? 'true' : `(${other}) or ${target} != ${then!}`}`
      : other;
  };
  const anySent = fc.record(Object.fromEntries(Object.entries(values).map(([key, list]) => [key, pick(...list)])), {
    requiredKeys: [],
  });
  const act = fc.record({
    sent: anySent,
    entryPoint: pick('form:full', 'form:short', 'import', 'api', 'bulk'),
    typed: fc.boolean(),
  });

  const whenMany: Rule = {
    ...ruleOf('customer', 'derive', setTo('size', 'if Count > 5 then "Large" else null')),
    moments: ['creating', 'updating'],
    entryPoints: everywhere,
    winner: 'rule',
    repeat: 'every',
  };
  it('is broken by nothing that anybody does', () => {
    const said = { sure: 0, broken: 0, tried: 0, 'cannot be read': 0 };
    fc.assert(
      fc.property(
        fc.array(rule, { maxLength: 3 }),
        fc.nat(5),
        plain,
        fc.array(fc.array(act, { minLength: 1, maxLength: 4 }), { minLength: 12, maxLength: 12 }),
        (rules, by, other, sittings) => {
          const condition = claimOf(rules, by, other);
          const claim = { key: 'c', name: 'Claim', recordType: 'customer', condition };
          const book = {
            ...rulebookOf(...rules.map((r, i) => ({ ...r, key: `r${i}`, name: `R ${i}`, position: i }))),
            recordTypes: [recordType],
            claims: [claim],
          };
          const program = compileProgram(book);
          fc.pre(program.broken.length === 0);
          const { state } = checkClaims(program, { most: 300 })[0]!;
          said[state]++;
          if (state !== 'sure') return;
          const type = program.types.get('customer')!;
          const { evaluate } = createCondition(condition, type.scope);
          const holds = (data: Readonly<Record<string, Stored>>): boolean => {
            const record = type.slots.map((s) => s.type.read(data[s.field.key] ?? null, s.field));
            return evaluate!({ record, previous: record, host: {} }) === true;
          };
          for (const sitting of sittings) {
            let before: Parameters<typeof settle>[1]['before'] = null;
            for (const { sent, entryPoint, typed } of sitting) {
              const moment = before ? 'updating' : 'creating';
              const write = { recordType: 'customer', before, sent, typed: typed ? Object.keys(sent) : [], moment, entryPoint, now: '2026-05-03T09:00:00Z' } as const; // prettier-ignore
              const { verdict, data, held } = settle(program, write, emptySource);
              if (verdict !== 'saved') continue;
              expect([condition, data, holds(data)]).toEqual([condition, data, true]);
              before = { data, held };
            }
          }
        },
      ),
      // One that is sure, whatever chance brings.
      {
        numRuns: runsOf(80),
        examples: [[[whenMany], 1, 'true', [[{ sent: { count: 7 }, entryPoint: 'api', typed: false }]]]],
      },
    );
    expect(said.sure, JSON.stringify(said)).toBeGreaterThan(0);
  });
});

/** Random rule sets and writes, for properties that must hold whatever people build. */
import fc from 'fast-check';
import type { Field, MappingTable, Rule, Rulebook } from '../document/document.ts';
import type { Write } from '../records/write.ts';
import type { Band } from '../compile/rule-kinds/bands.ts';
import { customerType, rulebookOf } from './customers.ts';

const numbers = ['count', 'area', 'rank'] as const;
const nameOf = (key: string): string => customerType.fields.find((f) => f.key === key)!.name;

/** Longer than what goes along with a form's rules: a form asks for the rows that it needs. */
export const rankTable: MappingTable = {
  key: 'ranks',
  name: 'Rank table',
  purpose: '',
  hitPolicy: 'unique',
  keys: [{ key: 'number', name: 'Number', type: 'number' }],
  outputs: [
    { key: 'place', name: 'Place', type: 'number' },
    { key: 'size', name: 'Size', type: 'text' },
  ],
  rows: Array.from({ length: 320 }, (_, n) => ({
    number: n,
    place: (n * 7) % 50,
    size: n % 3 === 0 ? 'Micro' : 'Large',
  })),
};

const formula = fc.oneof(
  fc.constantFrom(...numbers).map(nameOf),
  fc
    .tuple(fc.constantFrom(...numbers), fc.constantFrom('+', '-', '*', '/'), fc.integer({ min: 0, max: 7 }))
    .map(([k, op, n]) => `${nameOf(k)} ${op} ${n / 2}`),
  fc.constantFrom(...numbers).map((k) => `first filled(previous.${nameOf(k)}, 3)`),
  fc.constantFrom(...numbers).map((k) => `Rank table[Number = ${nameOf(k)}].Place`),
);

const condition = fc.option(
  fc.oneof(
    fc
      .tuple(fc.constantFrom(...numbers), fc.constantFrom('<', '>=', '='), fc.integer({ min: -5, max: 60 }))
      .map(([k, op, n]) => `${nameOf(k)} ${op} ${n}`),
    fc.constant('Kind = "Orchard" or is blank(Rank)'),
    fc.constant('Area > previous.Area'),
  ),
  { nil: undefined },
);

function bandsFor(target: Field, cuts: readonly number[]): Band[] {
  const sorted = [...new Set(cuts)].sort((a, b) => a - b);
  const result = (i: number): string | number => target.options?.[i % target.options.length]?.key ?? i * 3 - 2;
  return [undefined, ...sorted].map((from, i) => ({
    ...(from === undefined ? {} : { from }),
    ...(sorted[i] === undefined ? {} : { to: sorted[i] }),
    result: result(i),
  }));
}

const otherwise = fc.constantFrom({ do: 'clear' }, { do: 'leave' }, { do: 'stop', message: 'No.' });

const rule = (index: number): fc.Arbitrary<Rule> =>
  fc
    .record({
      source: formula,
      target: fc.constantFrom('class', 'area', 'rank', 'count'),
      cuts: fc.array(fc.integer({ min: -20, max: 80 }), { maxLength: 4 }),
      condition,
      blank: otherwise,
      winner: fc.constantFrom('rule', 'person', 'later', 'locked'),
      repeat: fc.constantFrom('wakes', 'starts', 'every'),
      on: fc.boolean().map((off) => !off || index % 2 === 0),
    })
    .map(({ source, target, cuts, condition: when, blank, winner, repeat, on }): Rule => ({
      key: `rule-${index}`,
      recordType: 'customer',
      name: `Rule ${index}`,
      purpose: '',
      kind: 'categorize',
      on,
      position: index,
      moments: ['editing', 'creating', 'updating'],
      entryPoints: ['form:full', 'api'],
      ...(when === undefined ? {} : { condition: when }),
      repeat,
      winner,
      outcome: {
        source,
        target,
        bands: bandsFor(
          customerType.fields.find((f) => f.key === target)!,
          cuts,
        ),
        blank,
        outside: { do: 'leave' },
      },
    }));

/** The same frame with an outcome of another kind. */
const otherKind = fc.oneof(
  fc
    .tuple(formula, fc.constantFrom('area', 'rank', 'count'), fc.constantFrom('clear', 'leave'))
    .map(([text, target, blank]) => ({
      kind: 'derive',
      outcome: { steps: [{ target, scratch: '', formula: text, blank }] },
    })),
  fc.constantFrom('class', 'kind').map((target) => ({
    kind: 'map',
    outcome: {
      source: {
        by: 'pairs',
        formula: target === 'class' ? 'Kind' : 'Size class',
        pairs:
          target === 'class'
            ? [{ from: 'Orchard', to: 'micro' }]
            : [
                { from: 'Large', to: 'vineyard' },
                { from: 'Micro', to: 'orchard' },
              ],
      },
      onto: '',
      outputs: [{ value: '', target, way: 'replace' }],
      blank: { do: 'leave' },
      none: { do: 'clear' },
      several: { do: 'leave' },
    },
  })),
  fc.constantFrom(...numbers).map((k) => ({
    kind: 'map',
    outcome: {
      source: { by: 'table', table: rankTable.key, keys: { number: nameOf(k) } },
      onto: '',
      outputs: [
        { value: 'place', target: 'rank', way: 'replace' },
        { value: 'size', target: 'class', way: 'replace' },
      ],
      blank: { do: 'leave' },
      none: { do: 'clear' },
      several: { do: 'leave' },
    },
  })),
  fc.tuple(formula, fc.integer({ min: -5, max: 90 })).map(([text, n]) => ({
    kind: 'validate',
    outcome: {
      checks: [{ hold: n % 2 === 0 ? 'must' : 'should', formula: `${text} < ${n}`, message: 'Less.', field: 'rank' }],
      required: n > 60 ? ['area'] : [],
    },
  })),
  fc
    .tuple(formula, fc.constantFrom('area', 'rank'))
    .map(([value, target]) => ({ kind: 'default', outcome: { target, value } })),
);

const anyRule = (index: number): fc.Arbitrary<Rule> =>
  fc.tuple(rule(index), fc.option(otherKind, { nil: undefined })).map(([r, other]) => ({ ...r, ...other }));

export const randomRulebook: fc.Arbitrary<Rulebook> = fc
  .integer({ min: 1, max: 8 })
  .chain((n) => fc.tuple(...Array.from({ length: n }, (_, i) => anyRule(i))))
  .map((rules) => {
    // A table that nobody asks is no part of what is tried.
    const isAsked = rules.some(
      (r) => JSON.stringify(r).includes(rankTable.name) || JSON.stringify(r).includes('"table"'),
    );
    return { ...rulebookOf(...rules), ...(isAsked ? { tables: [rankTable] } : {}) };
  });

const data = fc.record(
  {
    name: fc.constantFrom('Alder', 'Fen'),
    count: fc.integer({ min: -5, max: 300 }),
    class: fc.constantFrom('micro', 'large'),
    kind: fc.constantFrom('orchard', 'vineyard'),
    area: fc.integer({ min: -50, max: 900 }).map((n) => n / 10),
    rank: fc.integer({ min: -9, max: 90 }),
  },
  { requiredKeys: [] },
);

export const randomWrite: fc.Arbitrary<Write> = fc
  .record({
    recordType: fc.constant('customer'),
    before: fc.option(fc.record({ data, held: fc.subarray(['class', 'area', 'rank']) }), { nil: null }),
    sent: data,
    entryPoint: fc.constantFrom('form:full', 'api'),
    now: fc.constant('2026-05-03T09:00:00Z'),
    typedAll: fc.boolean(),
  })
  .map(({ typedAll, ...w }) => ({
    ...w,
    typed: typedAll ? Object.keys(w.sent) : [],
    moment: w.before ? 'updating' : 'creating',
  }));

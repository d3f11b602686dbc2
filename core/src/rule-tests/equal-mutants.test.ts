/** Two conditions that are said to mean the same give the same on every record of a fine-meshed world. */
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { compileProgram } from '../compile/program.ts';
import type { Field, Stored } from '../document/document.ts';
import { createCondition } from '../language/expression/formula.ts';
import { customerType, rulebookOf } from '../testing/customers.ts';
import { runsOf } from '../testing/runs.ts';
import { sameInEveryRegion } from './equal-mutants.ts';

const fields: readonly Field[] = [
  { key: 'area', name: 'Area', type: 'number' },
  { key: 'count', name: 'Count', type: 'number', scale: 0, min: 0, max: 9 },
  { key: 'name', name: 'Name', type: 'text' },
  { key: 'day', name: 'Day', type: 'date' },
  { key: 'seen', name: 'Seen', type: 'date-time' },
  { key: 'stop', name: 'Stop', type: 'yes/no' },
];
const type = compileProgram({ ...rulebookOf(), recordTypes: [{ ...customerType, title: ['name'], fields }] }).types.get(
  'customer',
)!;
const world: readonly (readonly Stored[])[] = [
  [null, ...Array.from({ length: 61 }, (_, n) => (n - 5) / 10)],
  [null, 0, 1, 2, 3, 4, 5, 9],
  [null, 'Fen', 'Fenn', 'Eik', 'Orb'],
  [null, '2026-04-30', '2026-05-01', '2026-05-02', '2026-05-03'],
  [null, '2026-04-30T23:00:00Z', '2026-05-01T00:00:00Z', '2026-05-01T09:00:00Z'],
  [null, true, false],
];

const pick = fc.constantFrom;
const operator = pick('=', '!=', '<', '<=', '>', '>=');
const atom = fc.oneof(
  fc.tuple(pick('Area', 'Count'), operator, pick('2', '2.3', '3', '-0.3', '0')).map((a) => a.join(' ')),
  fc.tuple(pick('Area', 'Count'), pick('[', '('), pick('2', '2.2'), pick('2.3', '4'), pick(']', ')')).map(([f, a, l, h, b]) => `${f} in ${a}${l}..${h}${b}`), // prettier-ignore
  fc.tuple(pick('Area', 'Count'), pick('2', '3')).map(([f, n]) => `${f} between ${n} and 3`),
  fc.tuple(pick('Name'), operator, pick('"Fen"', '"Orb"')).map((a) => a.join(' ')),
  fc.tuple(pick('Day'), operator, pick('date("2026-05-01")', '@"2026-05-02"')).map((a) => a.join(' ')),
  fc.tuple(pick('Seen'), operator, pick('@"2026-05-01T00:00:00Z"')).map((a) => a.join(' ')),
  pick('Stop', 'not(Stop)', 'Stop = true', 'is blank(Area)', 'Area = null', 'Name != null', 'Count in (2, > 4)'),
);
const condition = fc.oneof(
  atom,
  fc.tuple(atom, pick('and', 'or'), atom).map((a) => a.join(' ')),
);

/** Few of two at random are the same; turned round, many are. */
const pair = fc.oneof(
  { weight: 30, arbitrary: fc.tuple(condition, condition) },
  {
    weight: 1,
    arbitrary: fc
      .tuple(atom, pick('and', 'or'), atom)
      .map(([a, word, b]): [string, string] => [`${a} ${word} ${b}`, `${b} ${word} ${a}`]),
  },
);

it('what is the same by reasoning is the same on every record', () => {
  let same = 0;
  fc.assert(
    fc.property(pair, fc.boolean(), ([from, to], truthOnly) => {
      if (!sameInEveryRegion({ from, to, truthOnly }, type)) return;
      if (from !== to) same++;
      const [a, b] = [createCondition(from, type.scope), createCondition(to, type.scope)];
      const read = new Set([...a.reads, ...b.reads].map((r) => r.field.slot as number));
      const records = world.reduce<Stored[][]>(
        (all, values, slot) => all.flatMap((head) => (read.has(slot) ? values : [null]).map((v) => [...head, v])),
        [[]],
      );
      for (const stored of records) {
        const record = stored.map((v, i) => type.slots[i]!.type.read(v, type.slots[i]!.field));
        const [x, y] = [a, b].map((f) => f.evaluate!({ record, previous: record, host: {} }));
        const equal = truthOnly ? (x === true) === (y === true) : x === y;
        expect([from, to, stored, equal]).toEqual([from, to, stored, true]);
      }
    }),
    { numRuns: runsOf(6_000) },
  );
  expect(same).toBeGreaterThan(5);
});

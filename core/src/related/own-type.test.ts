/** Records that name others of their own type, and themselves: parts of parts, and a parent in its own list. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compileProgram } from '../compile/program.ts';
import type { RecordData, RecordType, Rulebook } from '../document/document.ts';
import { sameStored } from '../language/field-types/field-type.ts';
import { RecordsSource } from '../records/record-source.ts';
import type { Write } from '../records/write.ts';
import { ruleOf, setTo } from '../testing/deals.ts';
import { runsOf } from '../testing/runs.ts';
import { effectsOf, fieldsReadElsewhere } from './effects.ts';
import { findDependants } from './dependants.ts';
import { settleAndPropagate } from './propagation.ts';

const node: RecordType = {
  key: 'node',
  name: 'Node',
  plural: 'Nodes',
  title: ['name'],
  forms: [
    { key: 'full', name: 'full form' },
    { key: 'short', name: 'short form' },
  ],
  fields: [
    { key: 'name', name: 'Name', type: 'text' },
    { key: 'amount', name: 'Amount', type: 'number', scale: 0 },
    { key: 'parent', name: 'Parent', type: 'lookup', recordType: 'node', children: 'Parts' },
    { key: 'total', name: 'Total', type: 'number', scale: 0 },
    { key: 'head', name: 'Head', type: 'text' },
  ],
};
const book: Rulebook = {
  format: 'rigid-rule/1',
  name: 'Tests',
  zone: 'Europe/Lisbon',
  currency: 'EUR',
  recordTypes: [node],
  rules: [
    ruleOf('node', 'derive', setTo('total', 'sum(Parts.Amount)')),
    ruleOf('node', 'derive', setTo('head', 'Parent.Name')),
  ],
};
const program = compileProgram(book);

interface Node extends RecordData {
  readonly name: string;
  readonly amount: number;
  readonly parent: string | null;
}
type World = ReadonlyMap<string, RecordData>;

/** What stands in every record once all of it has settled, worked out by hand. */
function settledByHand(nodes: ReadonlyMap<string, Node>): World {
  const all = [...nodes];
  return new Map(
    all.map(([id, data]) => {
      const parts = all.filter(([, other]) => other.parent === id);
      const total = parts.reduce((sum, [, other]) => sum + other.amount, 0);
      return [id, { ...data, total, head: (data.parent !== null && nodes.get(data.parent)?.name) || null }];
    }),
  );
}

/** Field by field; an empty one may be absent. */
const values = (data: RecordData) => node.fields.map(({ key }) => data[key] ?? null);

const ids = ['1', '2', '3', '4'];
const parent = fc.option(fc.constantFrom(...ids), { nil: null });
const node4 = fc.record({ name: fc.constantFrom('A', 'B', 'C'), amount: fc.integer({ min: 0, max: 9 }), parent });
const sent = fc.record(
  { name: fc.constantFrom('A', 'B', 'C'), amount: fc.integer({ min: 0, max: 9 }), parent },
  { requiredKeys: [] },
);

describe('records that name others of their own type', () => {
  it('hold what they would hold worked out by hand after any write, or are told to follow', () => {
    expect(program.broken).toEqual([]);
    fc.assert(
      fc.property(
        fc.tuple(node4, node4, node4, node4),
        fc.constantFrom(...ids),
        fc.boolean(),
        sent,
        (all, id, isNew, change) => {
          const nodes = new Map<string, Node>(all.map((data, i) => [ids[i]!, data]));
          const own = nodes.get(id)!;
          if (isNew) {
            nodes.delete(id);
            // Nobody can name a record that is not there yet.
            for (const [key, data] of nodes) if (data.parent === id) nodes.set(key, { ...data, parent: null });
          }
          const before = settledByHand(nodes);
          const filled: Node = { ...(isNew ? { name: 'N', amount: 1, parent: null } : own), ...change };
          const after = settledByHand(new Map([...nodes, [id, filled]]));
          const stored = [...before].map(([key, data]) => ({ recordType: 'node', id: key, data }));
          const write: Write = {
            recordType: 'node',
            id,
            before: isNew ? null : { data: before.get(id)!, held: [] },
            sent: isNew ? filled : change,
            typed: [],
            moment: isNew ? 'creating' : 'updating',
            entryPoint: 'api',
            now: '2026-05-03T09:00:00Z',
          };
          const world = new RecordsSource(stored);
          const done = settleAndPropagate(program, write, world);
          expect(done.settlement.verdict).toBe('saved');
          const holds = new Map<string, RecordData>(before);
          for (const f of done.followers) holds.set(f.id, f.settlement.data);
          holds.set(id, done.settlement.data);
          const followed = new Set(
            done.dependants.flatMap((d) => {
              const found = findDependants(d, done.settlement.data, world);
              return 'ids' in found ? found.ids : [];
            }),
          );
          // What is told of it is the difference, record by record.
          const told = new Map(effectsOf(done).map((e) => [e.id, e.changes]));
          for (const [key, was] of before) {
            if (key === id) continue;
            const now = holds.get(key)!;
            const changed = node.fields.filter((f) => !sameStored(was[f.key] ?? null, now[f.key] ?? null));
            expect((told.get(key) ?? []).map((c) => [c.field, c.from ?? null, c.to]).sort()).toEqual(
              changed.map((f) => [f.key, was[f.key] ?? null, now[f.key] ?? null]).sort(),
            );
          }
          for (const [key, data] of after)
            if (!followed.has(key)) expect([key, values(holds.get(key)!)]).toEqual([key, values(data)]);
        },
      ),
      { numRuns: runsOf(600) },
    );
  });

  it('are said beforehand to be reached by a change of what is read elsewhere', () => {
    expect([...fieldsReadElsewhere(program, 'node')].sort()).toEqual(['amount', 'name', 'parent']);
    expect(fieldsReadElsewhere(program, 'another')).toEqual([]);
  });
});

describe('what a write does elsewhere', () => {
  const change = (field: string, to: unknown, rule?: string) => ({
    field,
    to,
    author: rule ? { by: 'rule', rule } : { by: 'person' },
  });
  const follower = (id: string, before: object, ...changes: readonly object[]) => ({
    recordType: 'node',
    id,
    before,
    held: [],
    wave: 1,
    settlement: { changes },
  });
  const told = (followers: readonly object[], childWrites: readonly object[] = []) =>
    effectsOf({ followers, childWrites } as unknown as Parameters<typeof effectsOf>[0]);

  it.each([
    [
      'a record of several waves once, from its first state to its last',
      [
        follower('1', { total: 1 }, change('total', 2, 'r')),
        follower('1', { total: 2 }, change('total', 3, 's'), change('head', 'A')),
      ],
      [],
      [
        {
          recordType: 'node',
          id: '1',
          changes: [
            { field: 'total', from: 1, to: 3, rule: 's' },
            { field: 'head', from: null, to: 'A' },
          ],
        },
      ],
    ],
    [
      'nothing of what comes back',
      [follower('1', { total: 1 }, change('total', 2)), follower('1', { total: 2 }, change('total', 1))],
      [],
      [],
    ],
    [
      'what a job does right after as such',
      [],
      [{ recordType: 'node', id: '2', values: [{ field: 'head', value: 'B', rule: 'r' }] }],
      [{ recordType: 'node', id: '2', changes: [{ field: 'head', to: 'B', rule: 'r' }], later: true }],
    ],
  ])('tells %s', (_, followers, childWrites, effects) => {
    expect(told(followers, childWrites)).toEqual(effects);
  });
});

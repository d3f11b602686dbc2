import type { MappingTable } from '@rigid-rule/core/document';
import { draft } from '@rigid-rule/demo';
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { RulebookFeed, RulebookMirror } from './rulebook-feed.ts';

it('a mirror says what the rulebook says, and keeps what did not change', () => {
  const [feed, mirror] = [new RulebookFeed(), new RulebookMirror()];
  const first = mirror.take(structuredClone(feed.change(draft)));
  expect(first).toEqual(draft);
  const rules = draft.rules.with(0, { ...draft.rules[0]!, name: 'Renamed' });
  const change = feed.change({ ...draft, rules, tests: draft.tests!.slice(1) });
  expect(change.parts.map((p) => p.kind)).toContain('rule');
  expect(change.parts.filter((p) => p.kind !== 'test')).toHaveLength(1);
  const second = mirror.take(structuredClone(change));
  expect(second).toEqual({ ...draft, rules, tests: draft.tests!.slice(1) });
  expect([second.rules[1], second.tables![0], second.recordTypes]).toEqual([
    first.rules[1],
    first.tables![0],
    first.recordTypes,
  ]);
  expect(second.rules[1]).toBe(first.rules[1]);
  expect(second.recordTypes).toBe(first.recordTypes);
  expect(feed.change(draft).ids).toHaveLength(change.ids.length + 1);
});

it('of a table the rows that are otherwise are told, and the others stay', () => {
  const table = draft.tables![0]!;
  const rows = Array.from({ length: 40 }, (_, i) => ({ ...table.rows[0]!, nth: i }));
  const splices = fc.array(fc.record({ at: fc.nat(30), removed: fc.nat(4), put: fc.nat(4), name: fc.boolean() }), {
    maxLength: 6,
  });
  const bookOf = (of: MappingTable) => ({ ...draft, tables: [of, ...draft.tables!.slice(1)] });
  fc.assert(
    fc.property(splices, (steps) => {
      const [feed, mirror] = [new RulebookFeed(), new RulebookMirror()];
      let now: MappingTable = { ...table, rows };
      let seen = mirror.take(structuredClone(feed.change(bookOf(now)))).tables![0]!;
      for (const { at, removed, put, name } of steps) {
        const [last, known] = [now.rows, seen.rows];
        const added = Array.from({ length: put }, () => ({ ...table.rows[0]! }));
        now = { ...now, rows: last.toSpliced(at, removed, ...added), ...(name ? { name: `${now.name}x` } : {}) };
        const change = structuredClone(feed.change(bookOf(now)));
        seen = mirror.take(change).tables![0]!;
        expect(seen).toEqual(now);
        expect(seen.keys).toBe(mirror.take({ ...change, parts: [] }).tables![0]!.keys);
        for (const [i, row] of now.rows.entries())
          if (last.includes(row)) expect(seen.rows[i]).toBe(known[last.indexOf(row)]);
        expect(feed.change(bookOf({ ...now, rows: [...now.rows] })).parts).toEqual([]);
      }
    }),
  );
});

import type { PartKind } from '@rigid-rule/core/document';
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { withDifferences, type Difference, type DraftState } from './draft-state.ts';

/** What the database holds: ids with what would be read of each. */
type There = Exclude<Difference, { gone: true }>;
type Stored = ReadonlyMap<string, There>;

const kinds: readonly PartKind[] = ['rule', 'table', 'field'];
const oneOf = fc.record({
  kind: fc.constantFrom(...kinds, null),
  key: fc.constantFrom('a', 'b', 'c'),
  position: fc.integer({ min: 0, max: 3 }),
  version: fc.integer({ min: 1, max: 3 }),
});
const stored: fc.Arbitrary<Stored> = fc.array(oneOf, { maxLength: 12 }).map(
  (list) =>
    new Map(
      list.map(({ kind, key, position, version }) => {
        const id = kind === null ? `rows:${key}:${position}` : `${kind}:${key}`;
        const same = { id, gone: false, key, position, version, state: `${version} ${position}` } as const;
        const says = `${id} ${version}`;
        return [id, kind === null ? { ...same, kind, body: [says] } : { ...same, kind, body: { says } }];
      }),
    ),
);

const differencesOf = (before: DraftState, now: Stored): Difference[] => [
  ...[...now.values()].filter((s) => before.states.get(s.id) !== s.state),
  ...[...before.states.keys()].filter((id) => !now.has(id)).map((id) => ({ id, gone: true }) as const),
];
const nothing: DraftState = { parts: [], states: new Map(), pieces: new Map() };
const readWhole = (now: Stored): DraftState => withDifferences(nothing, differencesOf(nothing, now));

it('what was known and what differs is what would be read as a whole, and all else keeps its body', () => {
  fc.assert(
    fc.property(stored, stored, (first, second) => {
      const before = readWhole(first);
      const after = withDifferences(before, differencesOf(before, second));
      expect(after).toEqual(readWhole(second));
      for (const part of after.parts) {
        const known = before.parts.find((p) => p.kind === part.kind && p.key === part.key);
        const pieces = [...first.keys(), ...second.keys()].some((id) => id.startsWith(`rows:${part.key}:`));
        if (known && known.version === part.version && known.position === part.position && part.kind !== 'table')
          expect(part).toBe(known);
        if (part.kind === 'table' && !pieces) expect(part.body).not.toHaveProperty('rows');
      }
    }),
  );
});

it('rows of a long table stand in the order of its pieces', () => {
  const same = { gone: false, key: 'areas', version: 1 } as const;
  const piece = (n: number, rows: readonly unknown[]): There => ({
    ...same,
    id: `rows:areas:${n}`,
    kind: null,
    position: n,
    state: rows.join(),
    body: rows,
  });
  const table: There = { ...same, id: 'table:areas', kind: 'table', position: 1, state: '1', body: { name: 'Areas' } };
  const first = withDifferences(nothing, [piece(10, [4]), table, piece(2, [2, 3]), piece(1, [1])]);
  expect(first.parts.map((p) => p.body)).toEqual([{ name: 'Areas', rows: [1, 2, 3, 4] }]);
  const next = withDifferences(first, [piece(1.5, [1.5]), { id: 'rows:areas:10', gone: true }]);
  expect(next.parts.map((p) => p.body)).toEqual([{ name: 'Areas', rows: [1, 1.5, 2, 3] }]);
});

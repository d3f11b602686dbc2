import { draft } from '@rigid-rule/demo';
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

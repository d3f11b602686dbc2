/** An act of edits is done whole or not at all; what was done is taken back and done again in order. */
import fc from 'fast-check';
import { runsOf } from '../../../../../core/src/testing/runs.ts';
import { describe, expect, it } from 'vitest';
import { nextStep, noHistory, withMoved, withStep, type Direction, type History } from './history.ts';
import { PartStore } from './part-store.ts';
import { takenBack, type PartEdit } from './parts.ts';
import { ruleBody as body, ruleRef as ref } from './test-rule.ts';

const rename = (key: string, name: string): PartEdit => ({
  ref: ref(key),
  operations: [{ op: 'replace', path: '/name', value: name }],
});
const removal = (key: string): PartEdit => ({ ref: ref(key), operations: [{ op: 'remove', path: '' }] });

function storeOf(...keys: readonly string[]): PartStore {
  const store = new PartStore();
  keys.forEach((key, position) => store.put({ ...ref(key), version: 1, position, body: body(key) }));
  return store;
}
/** What a store holds, for comparing: in the order of positions. */
const contents = (store: PartStore) =>
  store
    .all()
    .map(({ key, position, body }) => ({ key, position, body }))
    .sort((x, y) => (x.key < y.key ? -1 : 1));

describe('a key for a new part', () => {
  it.each([
    ['a plain name', 'Size class', '', 'size_class'],
    ['accents', 'Größe à la carte', '', 'gro_e_a_la_carte'],
    ['a name that is there', 'a', '', 'a_2'],
    ['a name of nothing that a key may hold', '…', '', 'rule'],
    ['a long name', 'x'.repeat(90), '', 'x'.repeat(60)],
    ['a key within another', 'a', 'b.', 'a'],
  ])('is made of %s', (_, name, prefix, key) => {
    expect(storeOf('a').freeKey('rule', name, prefix)).toBe(key);
  });
});

describe('a position', () => {
  it('is behind a part and before the next, or behind all', () => {
    const store = storeOf('a', 'b');
    expect([store.positionAfter(ref('a')), store.positionAfter(ref('b')), store.lastPosition('rule')]).toEqual([
      0.5, 1.5, 2,
    ]);
    expect(store.lastPosition('table')).toBe(0);
  });
});

describe('an act of edits', () => {
  it.each<[string, readonly PartEdit[], RegExp | undefined]>([
    ['does not fit any more', [rename('a', 'x'), rename('gone', 'y')], undefined],
    [
      'makes a part that nothing can work with',
      [rename('a', 'x'), { ref: ref('b'), operations: [{ op: 'remove', path: '/outcome' }] }],
      /must have its outcome/,
    ],
  ])('of which one %s is not done at all', (_, edits, reason) => {
    const store = storeOf('a', 'b');
    const before = contents(store);
    const done = store.apply(edits);
    expect(done).toEqual({ problem: reason ? expect.stringMatching(reason) : undefined });
    expect(contents(store)).toEqual(before);
  });
});

/** The draft as a person works on it: a store and its history. */
class Work {
  history: History = noHistory;
  constructor(readonly store: PartStore) {}
  edit(edits: readonly PartEdit[], group: string): boolean {
    const done = this.store.apply(edits);
    if ('problem' in done) return false;
    this.history = withStep(this.history, { changes: done.changes, label: group, group });
    return true;
  }
  go(direction: Direction): boolean {
    const next = nextStep(this.history, direction);
    if (!next) return false;
    const done = this.store.apply(takenBack(next.step.changes));
    if ('problem' in done) throw new Error('nobody else was here');
    this.history = withMoved(next.rest, { ...next.step, changes: done.changes }, direction);
    return true;
  }
}

/** What must hold: each state that the work went through, and where among them it is. */
interface Model {
  readonly states: ReturnType<typeof contents>[];
  now: number;
  group: string | undefined;
}

class Edit implements fc.Command<Model, Work> {
  constructor(
    private readonly edits: (store: PartStore) => readonly PartEdit[],
    private readonly group: string,
    private readonly text: string,
  ) {}
  check(): boolean {
    return true;
  }
  run(model: Model, work: Work): void {
    if (!work.edit(this.edits(work.store), this.group)) return;
    const joins = model.group === this.group && model.now > 0;
    if (!joins) model.now++;
    model.states.length = model.now;
    model.states.push(contents(work.store));
    model.group = this.group;
  }
  toString(): string {
    return this.text;
  }
}
class Go implements fc.Command<Model, Work> {
  constructor(private readonly direction: Direction) {}
  check(): boolean {
    return true;
  }
  run(model: Model, work: Work): void {
    const to = model.now + (this.direction === 'undo' ? -1 : 1);
    const possible = to >= 0 && to < model.states.length;
    expect(work.go(this.direction)).toBe(possible);
    if (possible) model.now = to;
    expect(contents(work.store)).toEqual(model.states[model.now]);
    // A step that was gone back to is joined by what comes in its group, as the last one.
    model.group = work.history.past.at(-1)?.group;
  }
  toString(): string {
    return this.direction;
  }
}

const keys = ['a', 'b', 'c', 'd'];
const group = fc.constantFrom('one', 'two', 'three', 'four');
const key = fc.constantFrom(...keys);
const commands = [
  fc
    .tuple(key, fc.string({ maxLength: 4 }), group)
    .map(([k, name, g]) => new Edit(() => [rename(k, name)], g, `rename ${k} (${g})`)),
  fc
    .tuple(key, key, group)
    .map(([k, l, g]) => new Edit(() => [rename(k, l), rename(l, k)], g, `rename ${k} and ${l} (${g})`)),
  fc.tuple(key, group).map(([k, g]) => new Edit(() => [removal(k)], g, `remove ${k} (${g})`)),
  fc
    .tuple(key, group)
    .map(([k, g]) => new Edit((s) => (s.get(ref(k)) ? [] : [s.creation(ref(k), body(k))]), g, `create ${k} (${g})`)),
  fc
    .tuple(key, fc.integer({ min: -2, max: 9 }), group)
    .map(
      ([k, position, g]) =>
        new Edit((s) => (s.get(ref(k)) ? [{ ...rename(k, k), position }] : []), g, `move ${k} (${g})`),
    ),
  fc.constantFrom<Direction>('undo', 'redo').map((d) => new Go(d)),
];

describe('whatever was done', () => {
  it('is undone state by state to the start and done again to the end', () => {
    fc.assert(
      fc.property(fc.commands(commands, { size: '+1' }), (steps) => {
        const work = new Work(storeOf('a', 'b'));
        const model: Model = { states: [contents(work.store)], now: 0, group: undefined };
        fc.modelRun(() => ({ model, real: work }), steps);
        while (work.go('undo'));
        expect(contents(work.store)).toEqual(model.states[0]);
        while (work.go('redo'));
        expect(contents(work.store)).toEqual(model.states.at(-1));
      }),
      { numRuns: runsOf(200) },
    );
  });
});

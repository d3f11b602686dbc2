/** Steps of undo that outlive a reload. */
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Draft } from './draft.svelte.ts';
import { keepStepsIn, type KeptSteps } from './kept-steps.ts';
import { ruleBody, ruleRef } from './test-rule.ts';

function memory(most = Infinity) {
  const kept = new Map<string, string>();
  return {
    kept,
    getItem: (name: string) => kept.get(name) ?? null,
    setItem(name: string, text: string) {
      if (text.length > most) throw new Error('no room');
      kept.set(name, text);
    },
    removeItem: (name: string) => void kept.delete(name),
  };
}

const ref = ruleRef('r');
const open = (steps: KeptSteps, name = 'first') =>
  new Draft(
    [{ ...ref, position: 0, version: 1, body: ruleBody('r', name) }],
    { editable: true, owner: 'ann@example.org' },
    {},
    steps,
  );
const nameIn = (draft: Draft) => (draft.part(ref)?.body as { name: string }).name;
const rename = (draft: Draft, name: string) =>
  draft.edit(ref, [{ op: 'replace', path: '/name', value: name }], `call it ${name}`);

// What is edited is never sent: there is no server.
beforeEach(() => vi.useFakeTimers());
afterEach(() => vi.useRealTimers());

describe('a draft that is opened again', () => {
  it('takes back and does again what was done before', () => {
    const storage = memory();
    const before = open(keepStepsIn(storage, 'ann'));
    rename(before, 'second');
    rename(before, 'third');
    before.undo();
    before.keepStepsNow();

    const after = open(keepStepsIn(storage, 'ann'), 'second');
    expect([after.undoLabel, after.redoLabel]).toEqual(['call it second', 'call it third']);
    after.redo();
    expect([nameIn(after), after.said]).toEqual(['third', 'Done again: call it third']);
    after.undo();
    after.undo();
    expect([nameIn(after), after.said]).toEqual(['first', 'Undone: call it second']);
  });

  it('leaves alone what somebody changed since', () => {
    const storage = memory();
    const before = open(keepStepsIn(storage, 'ann'));
    rename(before, 'second');
    before.keepStepsNow();
    const after = open(keepStepsIn(storage, 'ann'), 'by somebody else');
    after.undo();
    expect(nameIn(after)).toBe('by somebody else');
    expect(after.refusal).toMatch(/cannot be undone any more/);
  });

  it.each([
    ['nobody else’s steps', (s: ReturnType<typeof memory>) => keepStepsIn(s, 'bob').load()],
    [
      'nothing from what is no list of steps',
      () => keepStepsIn({ ...memory(), getItem: () => '{"past":1}' }, 'ann').load(),
    ],
    ['nothing from what cannot be read', () => keepStepsIn({ ...memory(), getItem: () => '{' }, 'ann').load()],
  ])('has %s', (_, load) => {
    const storage = memory();
    const before = open(keepStepsIn(storage, 'ann'));
    rename(before, 'second');
    before.keepStepsNow();
    expect(load(storage)).toEqual({ past: [], future: [] });
  });

  it('goes on where there is no room to keep steps', () => {
    const before = open(keepStepsIn(memory(10), 'ann'));
    rename(before, 'second');
    expect(() => before.keepStepsNow()).not.toThrow();
  });
});

/** Keys and codes as browsers give them for these layouts: UI Events KeyboardEvent code values, and common practice. */
import { beforeAll, describe, expect, it, vi } from 'vitest';
import { handleKey } from './keys.ts';
import { beginsComposition, commandOf, typedBy } from './pressed-key.ts';

interface Pressed {
  readonly key: string;
  readonly code: string;
  readonly ctrl?: true;
  readonly meta?: true;
  readonly alt?: true;
  readonly altGr?: true;
  readonly shift?: true;
}

/** Windows tells of AltGr as Ctrl and Alt as well. */
const event = ({ key, code, ctrl, meta, alt, altGr, shift }: Pressed) =>
  ({
    key,
    code,
    ctrlKey: ctrl ?? altGr ?? false,
    metaKey: meta ?? false,
    altKey: alt ?? altGr ?? false,
    shiftKey: shift ?? false,
    defaultPrevented: false,
    isComposing: false,
    target: null,
    getModifierState: (name: string) => name === 'AltGraph' && altGr === true,
    preventDefault: () => undefined,
  }) as unknown as KeyboardEvent;

// There are none here, and what a key is pressed on is no element.
beforeAll(() => {
  for (const name of ['HTMLElement', 'HTMLTextAreaElement', 'HTMLInputElement']) vi.stubGlobal(name, Object);
});

const keys = ['Ctrl K', 'Ctrl Z', 'Ctrl Shift Z', 'J', '/', '?', '[', 'Alt Insert', 'F6', 'Shift F6'];

describe('the keys of a screen', () => {
  it.each<[string, Pressed, string | undefined]>([
    ['Latin', { key: 'k', code: 'KeyK', ctrl: true }, 'Ctrl K'],
    ['Latin, by Command', { key: 'k', code: 'KeyK', meta: true }, 'Ctrl K'],
    ['Greek', { key: 'κ', code: 'KeyK', ctrl: true }, 'Ctrl K'],
    ['Russian', { key: 'л', code: 'KeyK', ctrl: true }, 'Ctrl K'],
    ['Russian, with shift', { key: 'Я', code: 'KeyZ', ctrl: true, shift: true }, 'Ctrl Shift Z'],
    ['Hebrew', { key: 'ז', code: 'KeyZ', ctrl: true }, 'Ctrl Z'],
    ['Russian, a letter alone', { key: 'о', code: 'KeyJ' }, 'J'],
    ['German: Z stands where others have Y', { key: 'z', code: 'KeyY', ctrl: true }, 'Ctrl Z'],
    ['German: / by shift', { key: '/', code: 'Digit7', shift: true }, '/'],
    ['German: ? by shift', { key: '?', code: 'Minus', shift: true }, '?'],
    ['German: [ by AltGr', { key: '[', code: 'Digit8', altGr: true }, '['],
    ['German on a Mac: [ by Option', { key: '[', code: 'Digit5', alt: true }, '['],
    ['keys without letters', { key: 'Insert', code: 'Insert', alt: true }, 'Alt Insert'],
    ['F6 with shift', { key: 'F6', code: 'F6', shift: true }, 'Shift F6'],
    ['French: é is no key of ours', { key: 'é', code: 'Digit2' }, undefined],
    ['Alt with a letter', { key: 'j', code: 'KeyJ', alt: true }, undefined],
    ['Ctrl with a sign', { key: '/', code: 'Slash', ctrl: true }, undefined],
  ])('%s', (_, pressed, wanted) => {
    const ran: string[] = [];
    handleKey(
      event(pressed),
      keys.map((name) => ({ keys: name, does: name, run: () => ran.push(name) })),
    );
    expect(ran).toEqual(wanted === undefined ? [] : [wanted]);
  });
});

describe('what a key types', () => {
  it.each<[string, Pressed, string | undefined]>([
    ['a letter', { key: 'a', code: 'KeyA' }, 'a'],
    ['a letter of two UTF-16 units', { key: '𝒶', code: 'KeyA' }, '𝒶'],
    ['@ on a German keyboard', { key: '@', code: 'KeyQ', altGr: true }, '@'],
    ['€ on a German keyboard', { key: '€', code: 'KeyE', altGr: true }, '€'],
    ['å by Option', { key: 'å', code: 'KeyA', alt: true }, 'å'],
    ['a command', { key: 'd', code: 'KeyD', ctrl: true }, undefined],
    ['a menu’s letter', { key: 'd', code: 'KeyD', alt: true }, undefined],
    ['a key without a character', { key: 'Enter', code: 'Enter' }, undefined],
  ])('%s', (_, pressed, wanted) => expect(typedBy(event(pressed))).toBe(wanted));

  it.each<[Pressed, boolean]>([
    [{ key: 'Dead', code: 'Equal' }, true],
    [{ key: 'Process', code: 'KeyA' }, true],
    [{ key: 'Dead', code: 'Equal', ctrl: true }, false],
    [{ key: 'a', code: 'KeyA' }, false],
  ])('is composed with what follows: %o %s', (pressed, wanted) =>
    expect(beginsComposition(event(pressed))).toBe(wanted),
  );

  it('commands by its letter, whatever is typed', () => {
    expect(
      [
        { key: 'ф', code: 'KeyA' },
        { key: 'a', code: 'KeyQ' },
        { key: 'ö', code: 'Semicolon' },
        { key: 'Home', code: 'Home' },
      ].map((p) => commandOf(event(p))),
    ).toEqual(['A', 'A', 'Ö', 'Home']);
  });
});

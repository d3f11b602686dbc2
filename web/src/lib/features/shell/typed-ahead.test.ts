import { describe, expect, it } from 'vitest';
import { nothingTyped, typeAhead, type TypedAhead } from './typed-ahead.ts';

const typed = (...keys: (string | { key: string; ctrlKey: boolean })[]): TypedAhead | undefined =>
  keys.reduce<TypedAhead | undefined>((state, key) => {
    const press = typeof key === 'string' ? { key, ctrlKey: false } : key;
    const getModifierState = () => false;
    return state && typeAhead(state, { code: '', metaKey: false, altKey: false, getModifierState, ...press });
  }, nothingTyped);

describe('what is typed ahead of the palette', () => {
  it.each([
    ['letters and blanks', ['r', 'u', ' ', 'n'], { text: 'ru n', entered: false }],
    ['a letter taken back', ['r', 'x', 'Backspace', 'u'], { text: 'ru', entered: false }],
    ['Enter after letters', ['r', 'u', 'Enter'], { text: 'ru', entered: true }],
    ['what follows Enter is not the palette’s', ['r', 'Enter', 'u'], { text: 'r', entered: true }],
    ['keys that say nothing', ['r', 'Shift', 'ArrowDown', { key: 'c', ctrlKey: true }], { text: 'r', entered: false }],
    ['Escape calls it off', ['r', 'Enter', 'Escape'], undefined],
  ] as const)('%s', (_, keys, wanted) => expect(typed(...keys)).toEqual(wanted));
});

import { typedBy, type Press } from '$lib/ui/pressed-key.ts';

/** What somebody typed for the palette before it had the focus. */
export interface TypedAhead {
  readonly text: string;
  /** Enter was the last of it: the first that the text finds is meant. */
  readonly entered: boolean;
}

export const nothingTyped: TypedAhead = { text: '', entered: false };

/**
 * What is typed ahead with one more key; `undefined` once Escape has called it off.
 * A key that says nothing to the palette gives the same object back.
 */
export function typeAhead(typed: TypedAhead, press: Press): TypedAhead | undefined {
  const character = typedBy(press);
  if (character !== undefined) return typed.entered ? typed : { ...typed, text: typed.text + character };
  const { key, ctrlKey, metaKey, altKey } = press;
  if (ctrlKey || metaKey || altKey) return typed;
  if (key === 'Escape') return undefined;
  if (typed.entered) return typed;
  if (key === 'Enter') return { ...typed, entered: true };
  if (key === 'Backspace') return { ...typed, text: typed.text.slice(0, -1) };
  return typed;
}

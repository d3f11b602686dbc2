/** What somebody typed for the palette before it had the focus. */
export interface TypedAhead {
  readonly text: string;
  /** Enter was the last of it: the first that the text finds is meant. */
  readonly entered: boolean;
}

export const nothingTyped: TypedAhead = { text: '', entered: false };

type Key = Pick<KeyboardEvent, 'key' | 'ctrlKey' | 'metaKey' | 'altKey'>;

/**
 * What is typed ahead with one more key; `undefined` once Escape has called it off.
 * A key that says nothing to the palette gives the same object back.
 */
export function typeAhead(typed: TypedAhead, { key, ctrlKey, metaKey, altKey }: Key): TypedAhead | undefined {
  if (ctrlKey || metaKey || altKey) return typed;
  if (key === 'Escape') return undefined;
  if (typed.entered) return typed;
  if (key === 'Enter') return { ...typed, entered: true };
  if (key === 'Backspace') return { ...typed, text: typed.text.slice(0, -1) };
  return key.length === 1 ? { ...typed, text: typed.text + key } : typed;
}

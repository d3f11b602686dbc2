/**
 * What a key says, whatever the layout of the keyboard (UI Events, key values and codes): a Greek or Cyrillic layout has
 * other letters on the keys of commands, and many have signs where only AltGr or Option reaches them.
 */
export type Press = Pick<KeyboardEvent, 'key' | 'code' | 'ctrlKey' | 'metaKey' | 'altKey' | 'getModifierState'>;

const isOne = (key: string): boolean => [...key].length === 1;

/** The character that a key types; undefined for keys that command. */
export function typedBy(e: Press): string | undefined {
  if (!isOne(e.key)) return undefined;
  if (e.getModifierState('AltGraph')) return e.key;
  if (e.ctrlKey || e.metaKey) return undefined;
  // Alt with a letter commands; what Option types is a sign, or a letter of another alphabet.
  return e.altKey && /^[a-z\d]$/i.test(e.key) ? undefined : e.key;
}

/** The letter that a key commands by, large: where another alphabet is typed, that of its place on a Latin layout. */
export function commandOf({ key, code }: Press): string {
  if (!isOne(key)) return key;
  const place = key > '\u007f' ? /^Key([A-Z])$/.exec(code)?.[1] : undefined;
  return place ?? key.toUpperCase();
}

/** Whether a key begins a character that several make: an accent that waits for its letter, a word of an input method. */
export const beginsComposition = ({ key, ctrlKey, metaKey }: Press): boolean =>
  (key === 'Dead' || key === 'Process') && !ctrlKey && !metaKey;

/**
 * Keys that belong to an input method: while a word is being composed, as Japanese, Chinese and Korean are typed, Enter
 * chooses it and Escape takes it back. They are nobody else's, least of all of what commits a cell at Enter.
 */

/** Safari says of the Enter that ends a composition only that an input method took it (UI Events, section 7.3.1). */
const takenByInputMethod = 229;

const isComposing = (e: KeyboardEvent): boolean => e.isComposing || e.keyCode === takenByInputMethod;

/** Keeps the keys of a composition from whoever listens in a window, but for editors that compose on their own. Gives how to stop. */
export function keepCompositions(window: Window): () => void {
  const down = (e: KeyboardEvent): void => {
    const { target } = e;
    const composesItself = target instanceof Element && target.closest('.cm-editor') !== null;
    // Where nothing can be typed nothing is composed yet: a grid begins to.
    const isBefore = !e.isComposing && !(target instanceof HTMLInputElement || target instanceof HTMLTextAreaElement);
    if (isComposing(e) && !composesItself && !isBefore) e.stopImmediatePropagation();
  };
  window.addEventListener('keydown', down, true);
  return () => window.removeEventListener('keydown', down, true);
}

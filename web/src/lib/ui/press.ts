/**
 * A press is a click on what it began on, also where that moved away under the pointer: leaving an input commits it, and
 * what follows from that may push a button from under a pointer that is on its way up. Browsers give such a click to what
 * both places have in common, so nothing would happen. Whoever moves the pointer off takes the press back, as always.
 */

const control = 'button, a[href], summary, label, input, select';
/** Pixels that a hand may move while it presses. */
const still = 4;

/** Watches what is pressed in a window. Gives how to stop. */
export function keepPresses(window: Window): () => void {
  let pressed: { readonly on: HTMLElement; readonly x: number; readonly y: number } | undefined;

  const down = (e: PointerEvent): void => {
    const on = e.target instanceof Element ? e.target.closest<HTMLElement>(control) : null;
    pressed = on && e.isPrimary && e.button === 0 ? { on, x: e.clientX, y: e.clientY } : undefined;
  };

  const click = (e: MouseEvent): void => {
    const was = pressed;
    pressed = undefined;
    // Without a place it comes from the keyboard or from code.
    if (!was || e.detail === 0 || !(e.target instanceof Node) || was.on.contains(e.target)) return;
    if (!was.on.isConnected || Math.hypot(e.clientX - was.x, e.clientY - was.y) > still) return;
    e.preventDefault();
    e.stopImmediatePropagation();
    was.on.click();
  };

  window.addEventListener('pointerdown', down, true);
  window.addEventListener('click', click, true);
  return () => {
    window.removeEventListener('pointerdown', down, true);
    window.removeEventListener('click', click, true);
  };
}

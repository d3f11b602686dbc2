/** Panes of a screen by keyboard: F6 goes to the next, to what is worked on there. Marked `data-keypane`, in reading order. */

const focusable =
  'a[href], button:not(:disabled), input:not(:disabled), select:not(:disabled), textarea:not(:disabled), summary, [tabindex="0"], [contenteditable="true"]';

const isShown = (element: HTMLElement): boolean => element.checkVisibility() && !element.closest('[inert]');

/** To what is marked `data-first` in a pane, else to what comes first. */
export function enterPane(pane: HTMLElement): void {
  const marked = [...pane.querySelectorAll<HTMLElement>('[data-first]')];
  const all = [
    ...marked.flatMap((m) => (m.matches(focusable) ? [m] : [...m.querySelectorAll<HTMLElement>(focusable)])),
  ];
  const target = [...all, ...pane.querySelectorAll<HTMLElement>(focusable)].find(isShown);
  target?.focus();
}

export function goToNextPane(by: 1 | -1): void {
  const panes = [...document.querySelectorAll<HTMLElement>('[data-keypane]')].filter(isShown);
  if (panes.length === 0) return;
  const here = panes.findIndex((p) => p.contains(document.activeElement));
  const next = here < 0 ? (by === 1 ? 0 : panes.length - 1) : (here + by + panes.length) % panes.length;
  enterPane(panes[next]!);
}

/** An action for a list of links: arrows go up and down among them, Home and End to its ends. */
export function arrows(list: HTMLElement): { destroy(): void } {
  const press = (e: KeyboardEvent): void => {
    if (e.altKey || e.ctrlKey || e.metaKey || !(e.target instanceof HTMLElement)) return;
    const links = [...list.querySelectorAll<HTMLElement>('a[href]')].filter(isShown);
    const at = links.indexOf(e.target);
    const to = { ArrowDown: at + 1, ArrowUp: at - 1, Home: 0, End: links.length - 1 }[e.key];
    if (at < 0 || to === undefined || !links[to]) return;
    e.preventDefault();
    links[to].focus();
  };
  list.addEventListener('keydown', press);
  return { destroy: () => list.removeEventListener('keydown', press) };
}

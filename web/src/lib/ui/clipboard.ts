/**
 * The clipboard of an element that has the focus without being typed in. Of such a one some browsers tell the element,
 * some the page's body, or where something was chosen last (Clipboard API and events, W3C, *fire a clipboard event*): so
 * what is asked is who has the focus.
 */
import type { Action } from 'svelte/action';

type Heard = Readonly<Partial<Record<'copy' | 'cut' | 'paste', (e: ClipboardEvent) => void>>>;

export const clipboard: Action<HTMLElement, Heard> = (element, heard) => {
  const told = Object.entries(heard).map(([event, act]) => {
    const tell = (e: Event): void => {
      if (document.activeElement === element) act(e as ClipboardEvent);
    };
    return [event, tell] as const;
  });
  for (const [event, tell] of told) document.addEventListener(event, tell);
  return {
    destroy() {
      for (const [event, tell] of told) document.removeEventListener(event, tell);
    },
  };
};

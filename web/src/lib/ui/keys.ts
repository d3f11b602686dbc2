import { commandOf, typedBy } from './pressed-key.ts';

/** Keyboard acts that a screen offers. `?` lists them; none fires while someone types, save those with Ctrl. */
export interface KeyAct {
  /** As a person reads it: `J`, `Ctrl Z`, `?`. */
  readonly keys: string;
  readonly does: string;
  /** Text that is being typed has its own meaning for these keys. */
  readonly leavesTyping?: true;
  readonly run: () => void;
}

const isTyping = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  (target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName));

/** An input of text, where the browser itself undoes typing. */
const isText = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  (target.isContentEditable ||
    target instanceof HTMLTextAreaElement ||
    (target instanceof HTMLInputElement && !['checkbox', 'radio', 'button', 'range', 'file'].includes(target.type)));

/** What was last typed into each input. */
const typed = new WeakMap<EventTarget, unknown>();

/** What stands in an input; undefined in what is no input. */
const textIn = (target: EventTarget | null): unknown => (target && 'value' in target ? target.value : undefined);

/** Once the application writes another text into an input, the browser's undo and redo mix it with what was typed there. */
const isAsTyped = (target: EventTarget | null): boolean => !!target && typed.get(target) === textIn(target);

/** For every `input` event, before others hear it. */
export function noteTyping({ target }: Event): void {
  if (target) typed.set(target, textIn(target));
}

/** For every `beforeinput` event: the browser takes back and does again only what was typed. */
export function leaveWritten(e: InputEvent): void {
  if (e.inputType.startsWith('history') && !isAsTyped(e.target)) e.preventDefault();
}

const isLetterOrDigit = /[\p{L}\p{N}]/u;

function pressed(e: KeyboardEvent): string {
  const typed = typedBy(e);
  // Signs are called by themselves, whatever keys a layout needs for them.
  if (typed !== undefined && !isLetterOrDigit.test(typed)) return typed;
  const key = commandOf(e);
  const parts = [
    e.ctrlKey || e.metaKey ? 'Ctrl' : '',
    e.shiftKey && /^(?:[A-Z]|F\d+)$/.test(key) ? 'Shift' : '',
    e.altKey ? 'Alt' : '',
    key,
  ];
  return parts.filter(Boolean).join(' ');
}

/** Runs the act of the key that was pressed, if there is one. */
export function handleKey(e: KeyboardEvent, acts: readonly KeyAct[]): void {
  if (e.defaultPrevented || e.isComposing) return;
  const name = pressed(e);
  const act = acts.find((a) => a.keys === name);
  if (!act || (isTyping(e.target) && !e.ctrlKey && !e.metaKey && !/F\d+$/.test(act.keys))) return;
  if (act.leavesTyping && isText(e.target) && isAsTyped(e.target)) return;
  e.preventDefault();
  act.run();
}

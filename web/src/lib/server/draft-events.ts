/** Edits of the draft as they happen, on every node: handed to the pages that are open. Who missed some asks for the whole. */
import type { RemoteEdit } from '../draft-protocol.ts';
import { draftStamp, editsBetween, toldOf, type DraftNotice } from './db/draft.ts';
import { listening, onNotice } from './db/notices.ts';

export type DraftEvent = DraftNotice & RemoteEdit;

export interface DraftListener {
  edited(event: DraftEvent): void;
  /** Edits may have been missed. */
  missed(): void;
  /** The application stops. */
  ended(): void;
}

const listeners = new Set<DraftListener>();
let hearing: (() => void) | undefined;
/** Browsers whose stream ended ask again at once: while the application stops nobody is heard any more. */
let stopped = false;

const hear = (): (() => void) =>
  onNotice('draft_edit', {
    heard: (notice) => broadcast(notice as DraftNotice),
    missed,
  });

/** What could not be told: the pages ask for the whole. */
function missed(): void {
  for (const listener of listeners) listener.missed();
}

async function broadcast(notice: DraftNotice): Promise<void> {
  if (listeners.size === 0) return;
  const told = await toldOf(notice);
  for (const listener of listeners) listener.edited({ ...notice, ...told });
}

/**
 * Hears of edits until the returned function is called.
 * @param since Stamp of the draft that the listener has: it is told of the edits since, or that it missed some.
 */
export function hearDraftEdits(listener: DraftListener, since: string): () => void {
  if (stopped) {
    listener.ended();
    return () => undefined;
  }
  listeners.add(listener);
  hearing ??= hear();
  const begin = async (): Promise<void> => {
    if (!(await listening())) return;
    const now = await draftStamp();
    if (now === since) return;
    const edits = await editsBetween(since, now);
    if (!edits) return listener.missed();
    for (const edit of edits) listener.edited({ ...edit, ...(await toldOf(edit)) });
  };
  begin().catch(() => listener.missed());
  return () => void listeners.delete(listener);
}

/** The application stops: pages are told. */
export function stopHearing(): void {
  stopped = true;
  hearing?.();
  for (const listener of [...listeners]) listener.ended();
  listeners.clear();
}

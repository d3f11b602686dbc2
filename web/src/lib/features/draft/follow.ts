/** The draft as the server has it, and the edits of others by server-sent events. */
import { ask } from '$lib/network.ts';
import type { RemoteEdit, WholeDraft } from '$lib/draft-protocol.ts';
import type { Draft } from './draft.svelte.ts';

/** Milliseconds after which a draft that could not be read is asked for again. */
const retryDelay = 4000;

/** The server gives no draft to who asks: signed out. */
class Refused extends Error {}

/** @throws {Error} where the server cannot be reached or gives no draft. */
export async function readDraft(): Promise<WholeDraft> {
  const answer = await ask('/api/draft/parts');
  if (answer.status < 500 && !answer.ok) throw new Refused(`The draft is not given: ${answer.status}`);
  if (!answer.ok) throw new Error(`The draft could not be read: ${answer.status}`);
  return (await answer.json()) as WholeDraft;
}

/**
 * Takes in what others do from the state on that `stamp` names, until the returned function is called. Where edits may
 * have been missed, before the first of them or in a break, the whole draft is asked for, until it is there.
 */
export function followDraft(draft: Draft, stamp: string): () => void {
  const events = new EventSource(`/api/draft/events?${new URLSearchParams({ page: draft.saver.page, since: stamp })}`);
  events.addEventListener('edit', ({ data }: MessageEvent<string>) =>
    draft.applyRemote(JSON.parse(data) as RemoteEdit),
  );
  let [isWanted, isReading, isOver] = [false, false, false];
  let timer: ReturnType<typeof setTimeout> | undefined;
  const read = async (): Promise<void> => {
    clearTimeout(timer);
    isWanted = true;
    if (isReading) return;
    isReading = true;
    try {
      // What is missed while it is read may be too late for it.
      while (isWanted && !isOver) {
        isWanted = false;
        const at = draft.saver.versions.now();
        const { parts } = await readDraft();
        if (!isOver) draft.refresh(parts, at);
      }
    } catch (e) {
      if (!isOver && !(e instanceof Refused)) timer = setTimeout(() => void read(), retryDelay);
    } finally {
      isReading = false;
    }
  };
  draft.whenMissed = () => void read();
  events.addEventListener('missed', draft.whenMissed);
  return () => {
    isOver = true;
    clearTimeout(timer);
    events.close();
  };
}

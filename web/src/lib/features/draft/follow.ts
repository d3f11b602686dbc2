/** The draft as the server has it, and the edits of others by server-sent events. */
import type { RemoteEdit, WholeDraft } from '$lib/draft-protocol.ts';
import type { Draft } from './draft.svelte.ts';

/** @throws {Error} where the server cannot be reached or gives no draft. */
export async function readDraft(): Promise<WholeDraft> {
  const answer = await fetch('/api/draft/parts');
  if (!answer.ok) throw new Error(`The draft could not be read: ${answer.status}`);
  return (await answer.json()) as WholeDraft;
}

/**
 * Takes in what others do from the state on that `stamp` names, until the returned function is called. Where edits may
 * have been missed, before the first of them or in a break, the whole draft is asked for.
 */
export function followDraft(draft: Draft, stamp: string): () => void {
  const events = new EventSource(`/api/draft/events?${new URLSearchParams({ page: draft.saver.page, since: stamp })}`);
  events.addEventListener('edit', ({ data }: MessageEvent<string>) =>
    draft.applyRemote(JSON.parse(data) as RemoteEdit),
  );
  draft.whenMissed = () => {
    readDraft().then(
      ({ parts }) => draft.refresh(parts),
      () => undefined,
    );
  };
  events.addEventListener('missed', draft.whenMissed);
  return () => events.close();
}

/** Follows the edits of others by server-sent events; after a break the whole draft is asked for. */
import type { Draft } from './draft.svelte.ts';
import type { RemoteEdit } from '$lib/draft-protocol.ts';
import type { VersionedPart } from '$lib/draft-protocol.ts';

/** Until the returned function is called. */
export function followDraft(draft: Draft): () => void {
  const events = new EventSource(`/api/draft/events?page=${encodeURIComponent(draft.saver.page)}`);
  let opened = false;

  async function catchUp(): Promise<void> {
    const answer = await fetch('/api/draft/parts').catch(() => undefined);
    if (answer?.ok) draft.refresh(((await answer.json()) as { parts: readonly VersionedPart[] }).parts);
  }
  events.addEventListener('edit', ({ data }: MessageEvent<string>) =>
    draft.applyRemote(JSON.parse(data) as RemoteEdit),
  );
  events.addEventListener('missed', () => void catchUp());
  events.addEventListener('open', () => {
    if (opened) void catchUp();
    opened = true;
  });
  return () => events.close();
}

import { authorise } from '$lib/server/auth/guard.ts';
import { hearDraftEdits } from '$lib/server/draft-events.ts';
import { eventStream } from '$lib/server/event-stream.ts';
import type { RequestHandler } from './$types';

/**
 * Edits of the draft as server-sent events from the state `since` on: `edit` with the part as it is now, `missed` where
 * some may be lost.
 */
export const GET: RequestHandler = ({ locals, url }) => {
  const { sessionId } = authorise(locals, 'rulebook.read');
  const page = url.searchParams.get('page') ?? '';
  const since = url.searchParams.get('since') ?? '';
  return eventStream(sessionId, ({ say, end }) =>
    hearDraftEdits(
      {
        edited: (event) => event.page !== page && say('edit', event),
        missed: () => say('missed', {}),
        ended: end,
      },
      since,
    ),
  );
};

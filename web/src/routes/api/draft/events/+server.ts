import { authorise } from '$lib/server/auth/guard.ts';
import { hearDraftEdits } from '$lib/server/draft-events.ts';
import type { RequestHandler } from './$types';

/** Proxies and browsers end connections on which nothing is said. */
const heartbeat = 20_000;

/** Edits of the draft as server-sent events: `edit` with the part as it is now, `missed` where some may be lost. */
export const GET: RequestHandler = ({ locals, url }) => {
  authorise(locals, 'rulebook.read');
  const page = url.searchParams.get('page') ?? '';
  const encoder = new TextEncoder();
  let stop: () => void;
  const body = new ReadableStream<Uint8Array>({
    start(stream) {
      const say = (text: string): void => {
        try {
          stream.enqueue(encoder.encode(text));
        } catch {
          stop();
        }
      };
      const forget = hearDraftEdits({
        edited: (event) => event.page !== page && say(`event: edit\ndata: ${JSON.stringify(event)}\n\n`),
        missed: () => say('event: missed\ndata: {}\n\n'),
        ended: () => {
          stop();
          stream.close();
        },
      });
      const beat = setInterval(() => say(': still here\n\n'), heartbeat);
      stop = () => {
        clearInterval(beat);
        forget();
      };
      say('retry: 1000\n\n');
    },
    cancel: () => stop(),
  });
  return new Response(body, {
    headers: {
      'content-type': 'text/event-stream',
      'cache-control': 'no-store, no-transform',
      'x-accel-buffering': 'no',
    },
  });
};

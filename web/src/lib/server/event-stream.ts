/**
 * Server-sent events to pages that are open: so many for each session, none that nobody reads, and none after the
 * session has ended.
 */
import { sessionsInForce } from './db/sessions.ts';
import { log } from './log.ts';

/** Proxies and browsers end connections on which nothing is said. Milliseconds. */
const heartbeat = 20_000;
/** Streams of one session: tabs beyond these close the oldest, which asks again when it is looked at. */
const mostPerSession = 8;
/** Bytes that wait to be read: who falls this far behind is told to ask for the whole. */
const mostWaiting = 256_000;

export interface EventStream {
  say(event: string, data: unknown): void;
  end(): void;
}

interface Open {
  readonly session: number;
  say(text: string): void;
  end(): void;
}

const open = new Set<Open>();
let beating: NodeJS.Timeout | undefined;

/** Streams of sessions that have ended end; the others show that they live. */
async function beat(): Promise<void> {
  const inForce = await sessionsInForce([...new Set([...open].map((o) => o.session))]);
  for (const stream of [...open])
    if (inForce.has(stream.session)) stream.say(': still here\n\n');
    else stream.end();
}

function keepBeating(): void {
  beating ??= setInterval(() => {
    beat().catch((err: unknown) => log.warn({ err }, 'sessions of open streams could not be looked at'));
  }, heartbeat).unref();
}

/** Ends the streams of sessions that were ended here. */
export async function endStreamsOfEndedSessions(): Promise<void> {
  if (open.size > 0) await beat();
}

/** A response that stays open. `begin` gets the stream and gives what is done when it is over. */
export function eventStream(session: number, begin: (stream: EventStream) => () => void): Response {
  const encoder = new TextEncoder();
  let over: (() => void) | undefined;
  let mine: Open;
  const body = new ReadableStream<Uint8Array>(
    {
      start(controller) {
        const end = (): void => {
          if (!open.delete(mine)) return;
          over?.();
          try {
            controller.close();
          } catch {
            // The browser has gone already.
          }
        };
        const say = (text: string): void => {
          if (!open.has(mine)) return;
          // Who does not read is let go: the browser connects again and asks for the whole.
          if ((controller.desiredSize ?? 0) <= 0) return end();
          controller.enqueue(encoder.encode(text));
        };
        mine = { session, say, end };
        const own = [...open].filter((o) => o.session === session);
        for (const oldest of own.slice(0, Math.max(0, own.length - mostPerSession + 1))) oldest.end();
        open.add(mine);
        keepBeating();
        say('retry: 1000\n\n');
        over = begin({ say: (event, data) => say(`event: ${event}\ndata: ${JSON.stringify(data)}\n\n`), end });
      },
      cancel: () => {
        open.delete(mine);
        over?.();
      },
    },
    new ByteLengthQueuingStrategy({ highWaterMark: mostWaiting }),
  );
  return new Response(body, {
    headers: {
      'content-type': 'text/event-stream',
      'cache-control': 'no-store, no-transform',
      'x-accel-buffering': 'no',
    },
  });
}

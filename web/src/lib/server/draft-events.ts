/**
 * Edits of the draft as they happen, on every node: one listening connection a process hears of them from PostgreSQL
 * and hands them to the pages that are open. A connection that breaks is made again, and pages then ask for the whole.
 */
import pg from 'pg';
import type { RemoteEdit } from '../draft-protocol.ts';
import { draftChannel, draftStamp, toldOf, type DraftNotice } from './db/draft.ts';
import { connectionSettings } from './db/pool.ts';
import { log } from './log.ts';

export type DraftEvent = DraftNotice & RemoteEdit;

export interface DraftListener {
  edited(event: DraftEvent): void;
  /** Edits may have been missed. */
  missed(): void;
  /** The application stops. */
  ended(): void;
}

const listeners = new Set<DraftListener>();
let connection: Promise<pg.Client> | undefined;
const retryDelay = 1000;
/** Browsers whose stream ended ask again at once: while the application stops nobody is heard any more. */
let stopped = false;

async function connect(): Promise<pg.Client> {
  const client = new pg.Client({ ...connectionSettings(), application_name: 'rigid-rule draft events' });
  client.on('notification', ({ payload }) => {
    if (payload) broadcast(JSON.parse(payload) as DraftNotice).catch(missed);
  });
  client.on('error', (err) => {
    log.warn({ err }, 'the connection that hears of draft edits broke');
    connection = undefined;
    listenLater();
  });
  await client.connect();
  await client.query(`listen ${draftChannel}`);
  return client;
}

/** Whether edits are heard of from now on; if not, it is tried again by itself. */
async function listen(): Promise<boolean> {
  connection ??= connect();
  try {
    await connection;
    return true;
  } catch (err) {
    log.warn({ err }, 'draft edits cannot be heard of');
    connection = undefined;
    listenLater();
    return false;
  }
}

/** For as long as anybody wants to hear; what happened in between is not known. */
function listenLater(): void {
  const again = async (): Promise<void> => {
    if (await listen()) for (const listener of listeners) listener.missed();
  };
  if (listeners.size > 0) setTimeout(() => void again(), retryDelay).unref();
}

/** What could not be told: the pages ask for the whole. */
function missed(err: unknown): void {
  log.warn({ err }, 'an edit of the draft could not be told');
  for (const listener of listeners) listener.missed();
}

async function broadcast(notice: DraftNotice): Promise<void> {
  const told = await toldOf(notice);
  for (const listener of listeners) listener.edited({ ...notice, ...told });
}

/**
 * Hears of edits until the returned function is called.
 * @param since Stamp of the draft that the listener has: it is told where that is no longer the latest.
 */
export function hearDraftEdits(listener: DraftListener, since: string): () => void {
  if (stopped) {
    listener.ended();
    return () => undefined;
  }
  listeners.add(listener);
  const begin = async (): Promise<void> => {
    if ((await listen()) && (await draftStamp()) !== since) listener.missed();
  };
  begin().catch(() => listener.missed());
  return () => void listeners.delete(listener);
}

export async function stopHearing(): Promise<void> {
  stopped = true;
  const open = connection;
  connection = undefined;
  for (const listener of [...listeners]) listener.ended();
  listeners.clear();
  await open?.then(
    (client) => client.end(),
    () => undefined,
  );
}

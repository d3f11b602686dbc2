/**
 * What the nodes of an installation tell each other, through PostgreSQL: one listening connection a process, for as long
 * as anybody here wants to hear. A connection that breaks is made again, and those who hear are told that they may have
 * missed something.
 */
import pg from 'pg';
import { connectionSettings, db, type Queryable } from './pool.ts';
import { log } from '../log.ts';

export interface NoticeListener {
  /** `notice`: as it was sent, or anything: whoever may write to the database may send one. What is thrown is logged. */
  heard(notice: unknown): void | Promise<void>;
  /** Notices may have been missed. */
  missed?(): void;
}

/** Names of channels are words of this program, never input. */
export type Channel = 'draft_edit' | 'release_coming' | 'release_ready';

/** By this name in `pg_stat_activity` nodes know how many of them listen. */
export const listenerName = 'rigid-rule notices';

const listeners = new Map<Channel, Set<NoticeListener>>();
let connection: Promise<pg.Client> | undefined;
const retryDelay = 1000;
/** Said once for as long as the database is away, however often it is tried. */
let saidAway = false;
/** The application stops: nobody listens any more. */
let stopped = false;

const all = (): readonly NoticeListener[] => [...listeners.values()].flatMap((own) => [...own]);

const hand = async (listener: NoticeListener, payload: string): Promise<void> => listener.heard(JSON.parse(payload));

async function connect(): Promise<pg.Client> {
  const client = new pg.Client({ ...connectionSettings(), application_name: listenerName });
  client.on('notification', ({ channel, payload }) => {
    for (const listener of listeners.get(channel as Channel) ?? [])
      hand(listener, payload ?? '').catch((err: unknown) => {
        log.warn({ err, channel }, 'a notice could not be taken in');
        listener.missed?.();
      });
  });
  client.on('error', (err) => {
    log.warn({ err }, 'the connection that hears of notices broke');
    connection = undefined;
    listenLater();
  });
  await client.connect();
  for (const channel of listeners.keys()) await client.query(`listen ${channel}`);
  return client;
}

/** Whether notices are heard of from now on; if not, it is tried again by itself. */
export async function listening(): Promise<boolean> {
  if (stopped || all().length === 0) return false;
  connection ??= connect();
  try {
    await connection;
    saidAway = false;
    return true;
  } catch (err) {
    if (!saidAway) log.warn({ err }, 'notices cannot be heard of; it is tried again every second');
    saidAway = true;
    connection = undefined;
    listenLater();
    return false;
  }
}

/** What happened in between is not known. */
function listenLater(): void {
  const again = async (): Promise<void> => {
    if (await listening()) for (const listener of all()) listener.missed?.();
  };
  if (!stopped && all().length > 0) setTimeout(() => void again(), retryDelay).unref();
}

/** Hears of a channel until the returned function is called; from when on, `listening` tells. */
export function onNotice(channel: Channel, listener: NoticeListener): () => void {
  const own = listeners.get(channel) ?? new Set();
  const isNew = !listeners.has(channel);
  listeners.set(channel, own.add(listener));
  if (isNew) connection = connection?.then((client) => client.query(`listen ${channel}`).then(() => client));
  return () => void own.delete(listener);
}

/** Reaches every node, this one as well, once the transaction that it is sent in is committed. */
export const notify = async (channel: Channel, notice: object, on: Queryable = db()): Promise<void> =>
  void (await on.query(`select pg_notify($1, $2)`, [channel, JSON.stringify(notice)]));

/** Process ids of the listening connections of all nodes of this installation. */
export async function listeningNodes(): Promise<readonly number[]> {
  const { rows } = await db().query<{ pid: number }>(
    `select pid from pg_stat_activity where application_name = $1 and datname = current_database()`,
    [listenerName],
  );
  return rows.map((r) => r.pid);
}

/** Process id of this node's listening connection; undefined where it has none. */
export async function ownListener(): Promise<number | undefined> {
  const client = await connection?.catch(() => undefined);
  return client && (client as pg.Client & { readonly processID?: number }).processID;
}

export async function stopListening(): Promise<void> {
  stopped = true;
  const open = connection;
  connection = undefined;
  listeners.clear();
  await open?.then(
    (client) => client.end(),
    () => undefined,
  );
}

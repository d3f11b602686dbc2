import pg from 'pg';
import { log } from '../log.ts';

// bigint ids are below 2^53 by far: read them as numbers.
pg.types.setTypeParser(pg.types.builtins.INT8, Number);

/** Milliseconds that a call waits for a connection, free or new. */
const connectTimeout = 5_000;
/** Milliseconds that a statement may take unless DATABASE_TIMEOUT says otherwise. */
const usualTimeout = 15_000;
/** The server ends the statement; where it does not even answer that, the connection is given up a little later. */
const graceful = 2_000;
const lockTimeout = 10_000;
/** A transaction that nobody goes on with frees its locks. */
const idleTimeout = 30_000;

let pool: pg.Pool | undefined;

/** Nothing that is asked of the database waits without end. */
export function connectionSettings(): pg.ClientConfig {
  const timeout = Number(process.env['DATABASE_TIMEOUT'] ?? usualTimeout);
  return {
    connectionString: process.env['DATABASE_URL'],
    connectionTimeoutMillis: connectTimeout,
    statement_timeout: timeout,
    query_timeout: timeout + graceful,
    lock_timeout: Math.min(lockTimeout, timeout),
    idle_in_transaction_session_timeout: idleTimeout,
    keepAlive: true,
  };
}

/** The one pool of this process, opened on first use. A connection that breaks is replaced by the next call. */
export function db(): pg.Pool {
  if (pool) return pool;
  pool = new pg.Pool({
    ...connectionSettings(),
    max: Number(process.env['DATABASE_POOL'] ?? 10),
    application_name: 'rigid-rule',
  });
  return watched(pool);
}

/** Without somebody who hears of it, a connection that breaks while idle, or between two statements, ends the process. */
export function watched(given: pg.Pool): pg.Pool {
  given.on('error', (err) => log.warn({ err }, 'a database connection broke'));
  given.on('connect', (client) => client.on('error', (err) => log.warn({ err }, 'a database connection broke in use')));
  return given;
}

export async function closePool(): Promise<void> {
  const open = pool;
  pool = undefined;
  await open?.end();
}

export type Queryable = Pick<pg.Pool, 'query'>;

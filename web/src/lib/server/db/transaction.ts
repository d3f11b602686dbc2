import { setTimeout as sleep } from 'node:timers/promises';
import type pg from 'pg';
import { db } from './pool.ts';
import { BusyError } from './unavailable.ts';

const attempts = 5;
/** Milliseconds: those that collided do not meet again at once. */
const shortestPause = 4;
/** serialization_failure and deadlock_detected: the whole transaction may be run again. */
const collisions = new Set(['40001', '40P01']);

const isCollision = (e: unknown): boolean =>
  e instanceof Error && 'code' in e && collisions.has(String((e as { code: unknown }).code));

/**
 * Runs `work` in one SERIALIZABLE transaction; it may run several times, so it must have no effects but its queries.
 * @throws {BusyError} after five collisions; whatever `work` throws, after rolling back.
 */
export const serializable = <T>(work: (client: pg.PoolClient) => Promise<T>): Promise<T> =>
  transaction('serializable', work);

/** Runs `work` in one READ COMMITTED transaction: for what takes a lock first and then looks at what others did. */
export const underLock = <T>(work: (client: pg.PoolClient) => Promise<T>): Promise<T> =>
  transaction('read committed', work);

async function transaction<T>(
  isolation: 'serializable' | 'read committed',
  work: (client: pg.PoolClient) => Promise<T>,
): Promise<T> {
  const client = await db().connect();
  let broken = false;
  try {
    for (let attempt = 1; ; attempt++) {
      try {
        await client.query(`begin isolation level ${isolation}`);
        const result = await work(client);
        await client.query('commit');
        return result;
      } catch (e) {
        // Where even rolling back fails the connection is given up; the cause is what is told.
        broken = !(await client.query('rollback').then(
          () => true,
          () => false,
        ));
        if (broken || !isCollision(e)) throw e;
        if (attempt === attempts) throw new BusyError();
        await sleep(Math.random() * shortestPause * 2 ** attempt);
      }
    }
  } finally {
    client.release(broken);
  }
}

import type pg from 'pg';
import { db } from './pool.ts';

/** Thrown when a transaction still collides with others after all attempts. Nothing was saved. */
export class BusyError extends Error {
  constructor() {
    super('The database is busy. Nothing was saved; try again.');
  }
}

const attempts = 5;
/** serialization_failure and deadlock_detected: the whole transaction may be run again. */
const collisions = new Set(['40001', '40P01']);

const isCollision = (e: unknown): boolean =>
  e instanceof Error && 'code' in e && collisions.has(String((e as { code: unknown }).code));

/**
 * Runs `work` in one SERIALIZABLE transaction; it may run several times, so it must have no effects but its queries.
 * @throws {BusyError} after five collisions; whatever `work` throws, after rolling back.
 */
export async function serializable<T>(work: (client: pg.PoolClient) => Promise<T>): Promise<T> {
  const client = await db().connect();
  try {
    for (let attempt = 1; ; attempt++) {
      try {
        await client.query('begin isolation level serializable');
        const result = await work(client);
        await client.query('commit');
        return result;
      } catch (e) {
        await client.query('rollback');
        if (!isCollision(e)) throw e;
        if (attempt === attempts) throw new BusyError();
      }
    }
  } finally {
    client.release();
  }
}

import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import Postgrator from 'postgrator';
import type pg from 'pg';
import { db } from './pool.ts';

/** Any constant will do; it keeps two nodes from migrating at once. */
const lockKey = 4650_0001;

function migrationFolder(): string {
  const given = process.env['RIGID_RULE_MIGRATIONS'];
  const found = [given, 'migrations', 'web/migrations'].find((p) => p !== undefined && existsSync(p));
  if (!found) throw new Error('The folder with the migrations was not found; set RIGID_RULE_MIGRATIONS.');
  return resolve(found);
}

/** Brings the schema up to date: all outstanding migrations in one transaction, or none. */
export async function migrate(): Promise<void> {
  const client = await db().connect();
  let broken = false;
  try {
    await client.query('begin');
    // A migration of many records takes the time that it takes.
    await client.query('set local statement_timeout = 0; set local lock_timeout = 0');
    await client.query('select pg_advisory_xact_lock($1)', [lockKey]);
    const postgrator = new Postgrator({
      migrationPattern: `${migrationFolder()}/*.sql`,
      driver: 'pg',
      schemaTable: 'schema_version',
      execQuery: (query) => client.query({ text: query, query_timeout: 0 } as pg.QueryConfig),
    });
    await postgrator.migrate();
    await client.query('commit');
  } catch (e) {
    broken = !(await client.query('rollback').then(
      () => true,
      () => false,
    ));
    throw e;
  } finally {
    client.release(broken);
  }
}

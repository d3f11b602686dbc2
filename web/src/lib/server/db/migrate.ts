import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import Postgrator from 'postgrator';
import pg from 'pg';
import { migrateQueue } from '../jobs/queue-tables.ts';
import { connectionSettings, db, watched } from './pool.ts';
import { grantRights } from './rights.ts';

/** Any constant will do; it keeps two nodes from migrating at once. */
const lockKey = 4650_0001;

function migrationFolder(): string {
  const given = process.env['RIGID_RULE_MIGRATIONS'];
  const found = [given, 'migrations', 'web/migrations'].find((p) => p !== undefined && existsSync(p));
  if (!found) throw new Error('The folder with the migrations was not found; set RIGID_RULE_MIGRATIONS.');
  return resolve(found);
}

/**
 * Brings the schema up to date: the application's own and the queue's. With DATABASE_OWNER_URL that role owns the tables,
 * and the one of DATABASE_URL gets the rights to work with them.
 */
export async function migrate(): Promise<void> {
  const ownerUrl = process.env['DATABASE_OWNER_URL'];
  const owner = ownerUrl ? watched(new pg.Pool({ ...connectionSettings(), connectionString: ownerUrl, max: 2 })) : db();
  try {
    await migrateTables(owner);
    await migrateQueue(owner);
    if (owner === db()) return;
    const { rows } = await db().query<{ role: string }>('select current_user as role');
    await grantRights(rows[0]!.role, owner);
  } finally {
    if (owner !== db()) await owner.end();
  }
}

/** All outstanding migrations in one transaction, or none. */
async function migrateTables(owner: pg.Pool): Promise<void> {
  const client = await owner.connect();
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

import pg from 'pg';

// bigint ids are below 2^53 by far: read them as numbers.
pg.types.setTypeParser(pg.types.builtins.INT8, Number);

let pool: pg.Pool | undefined;

/** The one pool of this process, opened on first use. */
export function db(): pg.Pool {
  pool ??= new pg.Pool({
    connectionString: process.env['DATABASE_URL'],
    max: Number(process.env['DATABASE_POOL'] ?? 10),
    application_name: 'rigid-rule',
  });
  return pool;
}

export async function closePool(): Promise<void> {
  const open = pool;
  pool = undefined;
  await open?.end();
}

export type Queryable = Pick<pg.Pool, 'query'>;

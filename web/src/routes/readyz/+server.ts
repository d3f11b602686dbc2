import { setTimeout as sleep } from 'node:timers/promises';
import { db } from '$lib/server/db/pool.ts';
import type { RequestHandler } from './$types';

/** Milliseconds after which a database that does not answer counts as away. */
const patience = 1_000;

/** 200 when this node reaches its database, otherwise 503 at once. */
export const GET: RequestHandler = async () => {
  const asked = db()
    .query('select 1')
    .then(
      () => true,
      () => false,
    );
  const ready = await Promise.race([asked, sleep(patience, false, { ref: false })]);
  return new Response(ready ? 'ready\n' : 'the database cannot be reached\n', { status: ready ? 200 : 503 });
};

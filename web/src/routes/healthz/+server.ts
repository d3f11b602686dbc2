import { db } from '$lib/server/db/pool.ts';
import type { RequestHandler } from './$types';

/** 200 when this node can reach its database. */
export const GET: RequestHandler = async () => {
  await db().query('select 1');
  return new Response('ok\n');
};

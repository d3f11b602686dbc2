/** Which processes work on the queue, so that what a killed one had taken is done by another. */
import { db } from './pool.ts';

export async function seeNode(id: string, workerIds: readonly string[]): Promise<void> {
  await db().query(
    `insert into queue_nodes (id, worker_ids) values ($1, $2)
     on conflict (id) do update set worker_ids = excluded.worker_ids, seen_at = now()`,
    [id, workerIds],
  );
}

/** `silence`: seconds without a sign of life. */
export async function giveBackLostJobs(silence: number): Promise<void> {
  await db().query(
    `with lost as (
       delete from queue_nodes where seen_at < now() - make_interval(secs => $1) returning worker_ids
     )
     select graphile_worker.force_unlock_workers(array(select unnest(worker_ids) from lost)) where exists (select from lost)`,
    [silence],
  );
}

export async function leaveQueue(id: string): Promise<void> {
  await db().query('delete from queue_nodes where id = $1', [id]);
}

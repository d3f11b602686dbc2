/**
 * What writes leave behind for other records. Each piece of work is stored with its write; a job in the queue that does it
 * is asked for once the write is done, for many at once.
 */
import type { RecordData } from '@rigid-rule/core/document';
import type { ChildWrite, Dependants } from '@rigid-rule/core/related';
import { log } from '../log.ts';
import { db, type Queryable } from './pool.ts';
import { together } from './together.ts';

/** What one write leaves to be done: records that read it, and values for its children. */
export interface DependantWork {
  readonly dependants: readonly Dependants[];
  readonly childWrites: readonly ChildWrite[];
  /** The record that changed, as the write left it. */
  readonly after: RecordData;
  /** How many jobs led to this one. */
  readonly depth: number;
  /** Where the work was too much for one job: the records of the one dependants entry that this part settles. */
  readonly ids?: readonly string[];
}

/** Later than what concerns a few records only. */
const laterPriority = 10;

/** Puts parts of some work in its place, after what others have queued. */
export async function splitFollowUp(id: number, parts: readonly DependantWork[], on: Queryable): Promise<void> {
  await on.query(
    `with gone as (delete from follow_ups where id = $1 returning id)
     select queue_follow_up(part, $3) from gone, jsonb_array_elements($2::jsonb) as part`,
    [id, JSON.stringify(parts), laterPriority],
  );
}

/** One record that a job could not settle, or why the job itself gave up. */
export interface DependantFailure {
  readonly recordType?: string;
  readonly id?: number;
  /** For people. */
  readonly text: string;
}

export interface FollowUp {
  readonly id: number;
  readonly work: DependantWork;
}

/** `waited`: milliseconds since it was left to be done. */
export async function findFollowUp(
  id: number,
  on: Queryable,
): Promise<(FollowUp & { readonly waited: number }) | undefined> {
  const { rows } = await on.query<FollowUp & { waited: number }>({
    name: 'find-follow-up',
    text: `select id, work, (extract(epoch from now() - queued_at) * 1000)::float8 as waited
             from follow_ups where id = $1 and failures is null`,
    values: [id],
  });
  return rows[0];
}

/** The oldest work that waits. */
export async function listWaiting(most: number): Promise<readonly FollowUp[]> {
  const { rows } = await db().query<FollowUp>(
    'select id, work from follow_ups where failures is null order by id limit $1',
    [most],
  );
  return rows;
}

/** Work that is done goes; what failed in it stays, with the reasons. */
export async function finishFollowUp(id: number, failures: readonly DependantFailure[], on: Queryable): Promise<void> {
  if (failures.length === 0)
    await on.query({ name: 'finish-follow-up', text: 'delete from follow_ups where id = $1', values: [id] });
  else await on.query('update follow_ups set failures = $2 where id = $1', [id, JSON.stringify(failures)]);
}

export interface FailedFollowUp {
  readonly id: number;
  readonly queuedAt: Date;
  readonly failures: readonly DependantFailure[];
}

/** Work that gave up on some record, newest first. */
export async function listFailed(most: number): Promise<readonly FailedFollowUp[]> {
  const { rows } = await db().query<FailedFollowUp>(
    `select id, queued_at as "queuedAt", failures from follow_ups where failures is not null order by id desc limit $1`,
    [most],
  );
  return rows;
}

export interface FollowUpCounts {
  readonly failed: number;
  readonly waiting: number;
  /** Of those that wait: since when the one that waits longest does. */
  readonly oldest: Date | null;
  /** Those that wait for more than a minute: the server has more to do than it comes to. */
  readonly late: number;
}

export async function countFollowUps(): Promise<FollowUpCounts> {
  const { rows } = await db().query<FollowUpCounts>(
    `select count(failures)::int as failed, count(*) filter (where failures is null)::int as waiting,
            min(queued_at) filter (where failures is null) as oldest,
            count(*) filter (where failures is null and queued_at < now() - interval '1 minute')::int as late
       from follow_ups`,
  );
  return rows[0]!;
}

/** Has failed work tried once more; false where it is done by now, or has not failed. */
export async function retryFollowUp(id: number): Promise<boolean> {
  const { rowCount } = await db().query(
    `with back as (update follow_ups set failures = null where id = $1 and failures is not null returning id)
     select ask_follow_ups(array[id], 0) from back`,
    [id],
  );
  return rowCount === 1;
}

/** Milliseconds: a write is followed as soon as that, and those that come meanwhile cost no more. */
const gather = 20;
const askTogether = together<readonly number[], true>(
  async (works) => {
    await db().query({ name: 'ask-follow-ups', text: 'select ask_follow_ups($1, 0)', values: [works.flat()] });
    return works.map(() => true);
  },
  { gather },
);
const asking = new Set<Promise<unknown>>();

/** Has jobs made for work that is stored. Nobody waits for that: work whose job was not made in the end is found. */
export function askForJobs(ids: readonly number[]): void {
  if (ids.length === 0) return;
  const asked = askTogether(ids)
    .catch((err: unknown) => log.warn({ err }, 'jobs for follow-ups are asked for later'))
    .finally(() => asking.delete(asked));
  asking.add(asked);
}

/** Resolves when all jobs that were asked for so far are made. */
export const jobsAskedFor = async (): Promise<void> => void (await Promise.all(asking));

/** Work that no job will do, `silence` seconds after it was stored, gets one. */
export async function askForForgottenJobs(silence: number): Promise<void> {
  await db().query(
    'select ask_follow_ups(array_agg(id), 0) from follow_ups_without_job($1) as id having count(*) > 0',
    [silence],
  );
}

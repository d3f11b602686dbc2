import type { ChildWrite, Dependants, RecordData } from '@rigid-rule/core';
import { db, type Queryable } from './pool.ts';

/** What one write leaves to be done: records that read it, and values for its children. */
export interface DependantWork {
  readonly dependants: readonly Dependants[];
  readonly childWrites: readonly ChildWrite[];
  /** The record that changed, as the write left it. */
  readonly after: RecordData;
  /** How many jobs led to this one. */
  readonly depth: number;
}

export async function queueDependants(work: DependantWork, on: Queryable): Promise<void> {
  await on.query('insert into dependant_jobs (work) values ($1)', [JSON.stringify(work)]);
}

/** One record that a job could not settle, or why the job itself gave up. */
export interface DependantFailure {
  readonly recordType?: string;
  readonly id?: number;
  /** For people. */
  readonly text: string;
}

export interface DependantJob {
  readonly id: number;
  readonly work: DependantWork;
}

/** The oldest jobs that have not been tried. */
export async function listDependantJobs(most: number): Promise<readonly DependantJob[]> {
  const { rows } = await db().query<DependantJob>(
    'select id, work from dependant_jobs where failures is null order by id limit $1',
    [most],
  );
  return rows;
}

/** Locks a job for this transaction; false where another one has it, or it is done. */
export async function lockDependantJob(id: number, on: Queryable): Promise<boolean> {
  const { rowCount } = await on.query('select from dependant_jobs where id = $1 for update skip locked', [id]);
  return rowCount === 1;
}

/** A job that is done goes; what failed in it stays, with the reasons. */
export async function finishDependantJob(
  id: number,
  failures: readonly DependantFailure[],
  on: Queryable,
): Promise<void> {
  if (failures.length === 0) await on.query('delete from dependant_jobs where id = $1', [id]);
  else await on.query('update dependant_jobs set failures = $2 where id = $1', [id, JSON.stringify(failures)]);
}

export interface FailedJob {
  readonly id: number;
  readonly queuedAt: Date;
  readonly failures: readonly DependantFailure[];
}

/** Jobs that gave up on some record, newest first. */
export async function listFailedJobs(most: number): Promise<readonly FailedJob[]> {
  const { rows } = await db().query<FailedJob>(
    `select id, queued_at as "queuedAt", failures from dependant_jobs where failures is not null order by id desc limit $1`,
    [most],
  );
  return rows;
}

export async function countFailedJobs(): Promise<number> {
  const { rows } = await db().query<{ n: number }>(
    'select count(*)::int as n from dependant_jobs where failures is not null',
  );
  return rows[0]!.n;
}

/** Has a failed job tried once more; false where it is done by now, or is not failed. */
export async function retryDependantJob(id: number): Promise<boolean> {
  const { rowCount } = await db().query(
    'update dependant_jobs set failures = null where id = $1 and failures is not null',
    [id],
  );
  return rowCount === 1;
}

import type { Rulebook, Stored } from '@rigid-rule/core/document';
import type { ImpactFigures, ImpactWay } from '@rigid-rule/core/rule-tests';
import { db, type Queryable } from './pool.ts';

export type LiveRunState = 'waiting' | 'running' | 'done' | 'cancelled' | 'failed';

export interface LiveRun {
  readonly id: number;
  readonly by: string;
  readonly at: Date;
  readonly endedAt: Date | null;
  readonly state: LiveRunState;
  readonly total: number;
  readonly done: number;
  readonly lastType: string;
  readonly lastId: number;
  readonly way: ImpactWay;
  /** Key of the rule that is switched off; empty for none. */
  readonly without: string;
  readonly sha256: string;
  /** Number of the release that it is compared with; null: what is stored. */
  readonly against: number | null;
  /** ISO 8601 instant for which all of it is worked out. */
  readonly now: string;
  readonly counts: Readonly<Record<string, number>>;
  readonly figures: Readonly<Record<string, ImpactFigures>>;
}

/** The run of this id, or the last one. */
export async function findLiveRun(id: number | undefined, on: Queryable = db()): Promise<LiveRun | undefined> {
  const { rows } = await on.query<LiveRun>(
    `select r.id::int as id, u.name as by, r.asked_at as at, r.ended_at as "endedAt", r.state, r.total, r.done,
            r.last_type as "lastType", r.last_id::int as "lastId", r.way, r.without, r.sha256, r.against, r.now,
            r.counts, r.figures
       from live_dry_runs r join users u on u.id = r.asked_by
      where r.id = coalesce($1, (select max(id) from live_dry_runs))`,
    [id ?? null],
  );
  return rows[0];
}

/** What a run tries. */
export async function rulebookOfLiveRun(id: number, on: Queryable = db()): Promise<Rulebook> {
  const { rows } = await on.query<{ rulebook: Rulebook }>(`select rulebook from live_dry_runs where id = $1`, [id]);
  return rows[0]!.rulebook;
}

/** Begins a run over all records of some types and takes away those before it: the last one is what counts. */
export async function insertLiveRun(
  run: Pick<LiveRun, 'way' | 'without' | 'sha256' | 'against' | 'now'> & { readonly rulebook: Rulebook },
  types: readonly string[],
  userId: number,
  on: Queryable,
): Promise<number> {
  await on.query(`delete from live_dry_runs`);
  const { rows } = await on.query<{ id: number }>(
    `with counted as (select type, count(*)::int as n from records where type = any($1) group by type)
     insert into live_dry_runs (asked_by, way, without, rulebook, sha256, against, now, total, counts)
     select $2, $3, $4, $5, $6, $7, $8, coalesce(sum(n), 0), coalesce(jsonb_object_agg(type, n), '{}') from counted
     returning id::int`,
    [types, userId, run.way, run.without, JSON.stringify(run.rulebook), run.sha256, run.against, run.now],
  );
  await queueLiveRun(rows[0]!.id, on);
  return rows[0]!.id;
}

export const queueLiveRun = (id: number, on: Queryable = db()): Promise<unknown> =>
  on.query(
    `select graphile_worker.add_job('live dry run', json_build_object('id', $1::bigint), max_attempts => 3, priority => 5)`,
    [id],
  );

/** A record behind a number: of a move of a field, or newly stopped with a message. */
export interface FoundBehind {
  readonly field: string | null;
  readonly from: string;
  readonly to: string;
  readonly id: number;
  readonly before: Stored;
  readonly after: Stored;
  /** Name of the rule that makes the difference. */
  readonly rule: string | null;
}

/** What was found in a heap of records, with how far the run is; false where it was cancelled or kept meanwhile. */
export async function keepLiveRun(
  { id, done }: LiveRun,
  heap: {
    readonly type: string;
    readonly looked: number;
    readonly figures: ImpactFigures | undefined;
    readonly behind: readonly FoundBehind[];
    readonly next: { readonly type: string; readonly id: number } | undefined;
  },
  on: Queryable,
): Promise<boolean> {
  const { type, looked, figures, behind, next } = heap;
  const { rowCount } = await on.query(
    `update live_dry_runs set done = done + $3, last_type = $4, last_id = $5, state = $6,
            figures = figures || case when $7::jsonb is null then '{}' else jsonb_build_object($8::text, $7::jsonb) end,
            ended_at = case when $6 = 'done' then now() end
      where id = $1 and done = $2 and state in ('waiting', 'running')`,
    [
      id,
      done,
      looked,
      next?.type ?? type,
      next?.id ?? 0,
      next ? 'running' : 'done',
      figures ? JSON.stringify(figures) : null,
      type,
    ],
  );
  if (rowCount !== 1) return false;
  await on.query(
    `insert into live_dry_run_records (run_id, type, field, from_text, to_text, record_id, before, after, rule)
     select $1, $2, b.field, b."from", b."to", b.id, b.before, b.after, b.rule
       from jsonb_to_recordset($3::jsonb)
         as b (field text, "from" text, "to" text, id bigint, before jsonb, after jsonb, rule text)`,
    [id, type, JSON.stringify(behind)],
  );
  return true;
}

export async function endLiveRun(id: number, state: 'cancelled' | 'failed', on: Queryable = db()): Promise<void> {
  await on.query(
    `update live_dry_runs set state = $2, ended_at = now() where id = $1 and state in ('waiting', 'running')`,
    [id, state],
  );
}

/** Records of a move of a field, or those that a message newly stops (`field` null, `to` the message), in order of id. */
export async function listBehind(
  run: number,
  type: string,
  of: { readonly field: string | null; readonly from: string; readonly to: string },
  most: number,
): Promise<FoundBehind[]> {
  const { rows } = await db().query<FoundBehind>(
    `select field, from_text as "from", to_text as "to", record_id::int as id, before, after, rule
       from live_dry_run_records
      where run_id = $1 and type = $2 and field is not distinct from $3 and from_text = $4 and to_text = $5
      order by record_id limit $6`,
    [run, type, of.field, of.from, of.to, most],
  );
  return rows;
}

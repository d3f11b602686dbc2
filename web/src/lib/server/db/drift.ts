import type { Stored } from '@rigid-rule/core/document';
import { db, type Queryable } from './pool.ts';

export type DriftState = 'waiting' | 'running' | 'done' | 'cancelled' | 'failed';

export interface DriftRun {
  readonly id: number;
  readonly release: number;
  readonly by: string;
  readonly at: Date;
  readonly endedAt: Date | null;
  readonly state: DriftState;
  readonly total: number;
  readonly done: number;
  readonly lastType: string;
  readonly lastId: number;
}

const columns = `d.id::int as id, d.release, u.name as by, d.asked_at as at, d.ended_at as "endedAt", d.state, d.total, d.done,
  d.last_type as "lastType", d.last_id::int as "lastId"`;

export async function findDriftRun(id: number | undefined, on: Queryable = db()): Promise<DriftRun | undefined> {
  const { rows } = await on.query<DriftRun>(
    `select ${columns} from drift_runs d join users u on u.id = d.asked_by
      where d.id = coalesce($1, (select max(id) from drift_runs))`,
    [id ?? null],
  );
  return rows[0];
}

/** Begins a run and takes away those before it: the last one is what counts. */
export async function insertDriftRun(
  release: number,
  types: readonly string[],
  userId: number,
  on: Queryable,
): Promise<number> {
  await on.query(`delete from drift_runs`);
  const { rows } = await on.query<{ id: number }>(
    `insert into drift_runs (release, asked_by, total)
     values ($1, $2, (select count(*) from records where type = any($3))) returning id::int`,
    [release, userId, types],
  );
  await queueDrift(rows[0]!.id, on);
  return rows[0]!.id;
}

export const queueDrift = (id: number, on: Queryable = db()): Promise<unknown> =>
  on.query(
    `select graphile_worker.add_job('drift', json_build_object('id', $1::bigint), max_attempts => 3, priority => 5)`,
    [id],
  );

export interface DriftValue {
  readonly type: string;
  readonly id: number;
  readonly field: string;
  readonly stored: Stored;
  readonly settled: Stored;
  readonly rule: string | null;
  readonly held: boolean;
}

/** What was found in a heap of records, with how far the run is; false where it was cancelled meanwhile. */
export async function keepDrift(
  run: number,
  found: readonly DriftValue[],
  place: { readonly type: string; readonly id: number; readonly looked: number; readonly state: DriftState },
  on: Queryable,
): Promise<boolean> {
  const { rowCount } = await on.query(
    `update drift_runs set done = done + $2, last_type = $3, last_id = $4, state = $5,
            ended_at = case when $5 in ('done', 'failed') then now() end
      where id = $1 and state in ('waiting', 'running')`,
    [run, place.looked, place.type, place.id, place.state],
  );
  if (rowCount !== 1) return false;
  await on.query(
    `insert into drift_values (run_id, type, record_id, field, stored, settled, rule, held, since)
     select $1, f.type, f.id, f.field, f.stored, f.settled, f.rule, f.held,
            (select w.release from record_writes w
              where w.type = f.type and w.record_id = f.id
                and w.changes @> jsonb_build_array(jsonb_build_object('field', f.field))
              order by w.id desc limit 1)
       from jsonb_to_recordset($2::jsonb)
         as f (type text, id bigint, field text, stored jsonb, settled jsonb, rule text, held boolean)
     on conflict do nothing`,
    [run, JSON.stringify(found)],
  );
  return true;
}

export async function endDrift(run: number, state: 'cancelled' | 'failed', on: Queryable = db()): Promise<void> {
  await on.query(
    `update drift_runs set state = $2, ended_at = now() where id = $1 and state in ('waiting', 'running')`,
    [run, state],
  );
}

export interface DriftOfField {
  readonly type: string;
  readonly field: string;
  /** Records whose value differs and is not held, and those that are. */
  readonly records: number;
  readonly held: number;
  /** By the release under which the value was last written; null: no write is known. */
  readonly since: readonly { readonly release: number | null; readonly records: number }[];
}

export async function driftByField(run: number): Promise<DriftOfField[]> {
  const { rows } = await db().query<DriftOfField>(
    `select type, field, sum(n) filter (where not held)::int as records, sum(n) filter (where held)::int as held,
            coalesce(jsonb_agg(jsonb_build_object('release', since, 'records', n) order by since nulls first)
                       filter (where not held), '[]') as since
       from (select type, field, held, since, count(*)::int as n from drift_values where run_id = $1
              group by type, field, held, since) g
      group by type, field order by 3 desc nulls last`,
    [run],
  );
  return rows.map((r) => ({ ...r, records: r.records ?? 0, held: r.held ?? 0 }));
}

export async function listDrift(run: number, type: string, field: string, most: number): Promise<DriftValue[]> {
  const { rows } = await db().query<DriftValue>(
    `select type, record_id::int as id, field, stored, settled, rule, held from drift_values
      where run_id = $1 and type = $2 and field = $3 order by held, record_id limit $4`,
    [run, type, field, most],
  );
  return rows;
}

const inPiece = 2000;

/** All values of a field that differ, piece by piece, by the ids of their records. */
export async function* streamDrift(run: number, type: string, field: string): AsyncGenerator<readonly DriftValue[]> {
  for (let after = 0; ;) {
    const { rows } = await db().query<DriftValue>(
      `select type, record_id::int as id, field, stored, settled, rule, held from drift_values
        where run_id = $1 and type = $2 and field = $3 and record_id > $4 order by record_id limit $5`,
      [run, type, field, after, inPiece],
    );
    if (rows.length > 0) yield rows;
    if (rows.length < inPiece) return;
    after = rows.at(-1)!.id;
  }
}

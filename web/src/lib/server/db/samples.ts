import type { RecordData, RecordType, Stored } from '@rigid-rule/core/document';
import type { HeldValues } from '@rigid-rule/core/compile';
import { db, type Queryable } from './pool.ts';
import { like, titleOf } from './record-lists.ts';

export interface Sample {
  readonly id: number;
  readonly data: RecordData;
}

export interface SampleSetRow {
  readonly id: number;
  readonly name: string;
  readonly source: string;
  readonly madeBy: string | null;
  readonly madeAt: Date;
  /** How many records of each type. */
  readonly records: Readonly<Record<string, number>>;
  /** By record type how columns of files were matched with fields the last time. */
  readonly columns: Readonly<Record<string, Readonly<Record<string, string>>>>;
}

/** In the order in which they were made. */
export async function listSampleSets(on: Queryable = db()): Promise<SampleSetRow[]> {
  const { rows } = await on.query<SampleSetRow>(
    `select s.id, s.name, s.source, u.name as "madeBy", s.made_at as "madeAt", s.columns,
            coalesce((select jsonb_object_agg(c.type, c.n)
                        from (select type, count(*)::int as n from sample_records where set_id = s.id group by type) c),
                     '{}') as records
       from sample_sets s left join users u on u.id = s.made_by order by s.id`,
  );
  return rows.map((r) => ({ ...r, id: Number(r.id) }));
}

/** Undefined where there is one of that name. */
export async function insertSampleSet(
  set: { readonly name: string; readonly source: string; readonly madeBy: number | null },
  on: Queryable = db(),
): Promise<number | undefined> {
  const { rows } = await on.query<{ id: string }>(
    `insert into sample_sets (name, source, made_by) values ($1, $2, $3) on conflict (name) do nothing returning id`,
    [set.name, set.source, set.madeBy],
  );
  return rows[0] && Number(rows[0].id);
}

export async function deleteSampleSet(id: number, on: Queryable = db()): Promise<boolean> {
  const { rowCount } = await on.query(`delete from sample_sets where id = $1`, [id]);
  return rowCount === 1;
}

export async function rememberColumns(
  id: number,
  type: string,
  columns: Readonly<Record<string, string>>,
  on: Queryable = db(),
): Promise<void> {
  await on.query(`update sample_sets set columns = columns || jsonb_build_object($2::text, $3::jsonb) where id = $1`, [
    id,
    type,
    JSON.stringify(columns),
  ]);
}

/** The set that is taken where nobody says one, or one that is gone: the oldest. */
const usualSet = `(select min(id) from sample_sets)`;

/** Samples of a type in order of id: `most` of them after the first `from`. */
export async function loadSamples(set: number, type: string, from = 0, most = 2_000_000): Promise<Sample[]> {
  const { rows } = await db().query<Sample>(
    `select id, data from sample_records where set_id = $1 and type = $2 order by id offset $3 limit $4`,
    [set, type, from, most],
  );
  return rows;
}

export async function countSamples(set: number, type: string): Promise<number> {
  const { rows } = await db().query<{ n: number }>(
    `select count(*)::int as n from sample_records where set_id = $1 and type = $2`,
    [set, type],
  );
  return rows[0]!.n;
}

/** What samples of a type hold in some fields, and how many hold it: in no order. */
export async function countValues(
  set: number,
  type: string,
  fields: readonly string[],
): Promise<readonly HeldValues[]> {
  const { rows } = await db().query<HeldValues>(
    `select jsonb_build_array(${fields.map((_, i) => `data->$${i + 3}`).join(', ')}) as held, count(*)::int as count
       from sample_records where set_id = $1 and type = $2 group by 1`,
    [set, type, ...fields],
  );
  return rows;
}

/** Samples whose title holds a text, in order of id. */
export async function findSamples(set: number, type: RecordType, text: string, most: number): Promise<Sample[]> {
  const values: unknown[] = [set, type.key, like(text), most];
  const title = titleOf(type, 'data', (value) => `$${values.push(value)}`);
  const { rows } = await db().query<Sample>(
    `select id, data from sample_records where set_id = $1 and type = $2 and ${title} ilike $3 order by id limit $4`,
    values,
  );
  return rows;
}

export async function samplesOf(set: number, type: string, ids: readonly string[]): Promise<Sample[]> {
  const { rows } = await db().query<Sample>(
    `select id, data from sample_records where set_id = $1 and type = $2 and id = any($3) order by id`,
    [set, type, ids.filter((id) => /^\d{1,15}$/.test(id))],
  );
  return rows;
}

/** Samples that hold one of some texts in a field, be it as a text, a number or a yes or no. */
export async function samplesHolding(
  set: number,
  type: string,
  field: string,
  texts: readonly string[],
): Promise<Sample[]> {
  const held = texts.flatMap((text) => [text, ...literalOf(text)].map((v) => JSON.stringify({ [field]: v })));
  const { rows } = await db().query<Sample>(
    `select id, data from sample_records
      where set_id = $1 and type = $2 and data @> any($3::jsonb[]) order by id`,
    [set, type, held],
  );
  return rows;
}

/** The yes or no, or the number, that is written so. */
function literalOf(text: string): readonly (number | boolean)[] {
  if (text === 'true' || text === 'false') return [text === 'true'];
  return String(Number(text)) === text ? [Number(text)] : [];
}

/** What a field holds, sample by sample in order of id, after one of them. */
export async function valuesAfter(
  set: number,
  type: string,
  field: string,
  after: number,
  most: number,
): Promise<{ readonly id: number; readonly value: Stored }[]> {
  const { rows } = await db().query<{ id: number; value: Stored }>(
    `select id, data->$3 as value from sample_records
      where set_id = $1 and type = $2 and id > $4 order by id limit $5`,
    [set, type, field, after, most],
  );
  return rows;
}

/** Id of a set: this one, or the usual one where it is gone or none is said; undefined where there is none at all. */
export async function usualSampleSet(set: number | undefined): Promise<number | undefined> {
  const { rows } = await db().query<{ id: string | null }>(
    `select coalesce((select id from sample_sets where id = $1), ${usualSet}) as id`,
    [set ?? null],
  );
  const id = rows[0]?.id;
  return id === null || id === undefined ? undefined : Number(id);
}

/** Samples of a type in order of id, after one of them, as the texts that the database keeps. */
export async function sampleTexts(
  set: number,
  type: string,
  after: number,
  most: number,
): Promise<{ readonly id: number; readonly json: string }[]> {
  const { rows } = await db().query<{ id: string; json: string }>(
    `select id, data::text as json from sample_records
      where set_id = $1 and type = $2 and id > $3 order by id limit $4`,
    [set, type, after, most],
  );
  return rows.map((r) => ({ id: Number(r.id), json: r.json }));
}

export async function insertSamples(
  set: number,
  type: string,
  samples: readonly Sample[],
  on: Queryable = db(),
): Promise<void> {
  await on.query(
    `insert into sample_records (set_id, type, id, data)
     select $1, $2, s.id, s.data from jsonb_to_recordset($3::jsonb) as s (id bigint, data jsonb)
     on conflict (set_id, type, id) do update set data = excluded.data`,
    [set, type, JSON.stringify(samples)],
  );
}

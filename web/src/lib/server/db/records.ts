import { recordTitle, type Change, type RecordData, type RecordType, type TraceEntry } from '@rigid-rule/core';
import { putMatchKeys, rebuildMatchKeys } from './match-keys.ts';
import { db, type Queryable } from './pool.ts';

export interface StoredRecord {
  readonly id: number;
  readonly data: RecordData;
  readonly held: readonly string[];
  readonly version: number;
  readonly changedAt: Date;
}

const columns = `id, data, held, version, changed_at as "changedAt"`;

export async function findRecord(type: string, id: number, on: Queryable = db()): Promise<StoredRecord | undefined> {
  const { rows } = await on.query<StoredRecord>(`select ${columns} from records where type = $1 and id = $2`, [
    type,
    id,
  ]);
  return rows[0];
}

export async function findRecords(type: string, ids: readonly number[], on: Queryable): Promise<StoredRecord[]> {
  if (ids.length === 0) return [];
  const { rows } = await on.query<StoredRecord>(
    `select ${columns} from records where type = $1 and id = any($2) order by id`,
    [type, ids],
  );
  return rows;
}

/** Id of the first record of a type whose field holds a text, in any case. */
export async function findByText(type: string, field: string, text: string): Promise<number | undefined> {
  const { rows } = await db().query<{ id: number }>(
    `select id from records where type = $1 and lower(data->>$2) = lower($3) order by id limit 1`,
    [type, field, text],
  );
  return rows[0]?.id;
}

export async function lockRecord(type: string, id: number, on: Queryable): Promise<StoredRecord | undefined> {
  const { rows } = await on.query<StoredRecord>(
    `select ${columns} from records where type = $1 and id = $2 for update`,
    [type, id],
  );
  return rows[0];
}

/** The next id of a type: a new record has it before its rules look at it. */
export async function takeRecordId(type: string, on: Queryable): Promise<number> {
  const { rows } = await on.query<{ last: number }>(
    `insert into record_ids (type, last) values ($1, 1)
     on conflict (type) do update set last = record_ids.last + 1 returning last`,
    [type],
  );
  return rows[0]!.last;
}

/** The id that `takeRecordId` would give now; nobody has it yet. */
export async function nextRecordId(type: string, on: Queryable): Promise<number> {
  const { rows } = await on.query<{ last: number }>('select last from record_ids where type = $1', [type]);
  return (rows[0]?.last ?? 0) + 1;
}

export async function insertRecord(
  type: string,
  id: number,
  data: RecordData,
  held: readonly string[],
  on: Queryable,
): Promise<void> {
  await on.query('insert into records (type, id, data, held) values ($1, $2, $3, $4)', [
    type,
    id,
    JSON.stringify(data),
    held,
  ]);
  await putMatchKeys(type, id, data, on);
}

/** Loads ready-made records, as the demo and tests do; no rule looks at them. */
export async function insertRecordsAsTheyAre(
  type: string,
  records: readonly { id: number; data: RecordData }[],
  on: Queryable,
): Promise<void> {
  await on.query(
    `insert into records (type, id, data)
     select $1, r.id, r.data from jsonb_to_recordset($2::jsonb) as r (id bigint, data jsonb)`,
    [type, JSON.stringify(records)],
  );
  await on.query(
    `insert into record_ids (type, last) select $1, max(id) from records where type = $1
     on conflict (type) do update set last = greatest(record_ids.last, excluded.last)`,
    [type],
  );
  await rebuildMatchKeys(type, on);
}

export async function updateRecord(
  type: string,
  id: number,
  data: RecordData,
  held: readonly string[],
  on: Queryable,
): Promise<number> {
  const { rows } = await on.query<{ version: number }>(
    `update records set data = $3, held = $4, version = version + 1, changed_at = now()
      where type = $1 and id = $2 returning version`,
    [type, id, JSON.stringify(data), held],
  );
  await putMatchKeys(type, id, data, on);
  return rows[0]!.version;
}

export interface RecordWrite {
  readonly type: string;
  readonly recordId: number;
  readonly version: number;
  readonly userId: number | null;
  readonly tokenId: number | null;
  readonly entryPoint: string;
  readonly moment: string;
  readonly release: number | null;
  readonly changes: readonly Change[];
  readonly trace: readonly TraceEntry[];
}

export async function insertWrite(w: RecordWrite, on: Queryable): Promise<void> {
  await on.query(
    `insert into record_writes
       (type, record_id, version, user_id, token_id, entry_point, moment, release, changes, trace)
     values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)`,
    [
      w.type,
      w.recordId,
      w.version,
      w.userId,
      w.tokenId,
      w.entryPoint,
      w.moment,
      w.release,
      JSON.stringify(w.changes),
      JSON.stringify(w.trace),
    ],
  );
}

export interface HistoryEntry {
  readonly id: number;
  readonly version: number;
  readonly at: Date;
  readonly by: string | null;
  readonly entryPoint: string;
  readonly moment: string;
  readonly release: number | null;
  readonly changes: readonly Change[];
}

/** The last write that gave a field its value. */
export interface FieldAuthor {
  readonly field: string;
  readonly writeId: number;
  readonly at: Date;
  readonly by: string | null;
  readonly entryPoint: string;
  readonly release: number | null;
  readonly author: Change['author'];
}

export async function listFieldAuthors(type: string, id: number): Promise<FieldAuthor[]> {
  const { rows } = await db().query<FieldAuthor>(
    `select distinct on (c->>'field') c->>'field' as field, w.id as "writeId", w.at, coalesce(u.name, t.name) as by,
            w.entry_point as "entryPoint", w.release, c->'author' as author
       from record_writes w
       cross join jsonb_array_elements(w.changes) c
       left join users u on u.id = w.user_id
       left join api_tokens t on t.id = w.token_id
      where w.type = $1 and w.record_id = $2 order by c->>'field', w.id desc`,
    [type, id],
  );
  return rows;
}

export interface WriteTrace {
  readonly changes: readonly Change[];
  readonly trace: readonly TraceEntry[];
  readonly release: number | null;
}

/** What the rules did in one write of a record, as it was kept then. */
export async function findWriteTrace(type: string, id: number, writeId: number): Promise<WriteTrace | undefined> {
  const { rows } = await db().query<WriteTrace>(
    'select changes, trace, release from record_writes where type = $1 and record_id = $2 and id = $3',
    [type, id, writeId],
  );
  return rows[0];
}

const historyLength = 100;

export async function listHistory(type: string, id: number): Promise<HistoryEntry[]> {
  const { rows } = await db().query<HistoryEntry>(
    `select w.id, w.version, w.at, coalesce(u.name, t.name) as by, w.entry_point as "entryPoint", w.moment, w.release, w.changes
       from record_writes w
       left join users u on u.id = w.user_id
       left join api_tokens t on t.id = w.token_id
      where w.type = $1 and w.record_id = $2 order by w.id desc limit $3`,
    [type, id, historyLength],
  );
  return rows;
}

/** Names of the records that lookups link to. */
export async function findTitles(type: RecordType, ids: readonly string[]): Promise<Record<string, string>> {
  const { rows } = await db().query<{ id: number; data: RecordData }>(
    `select id, data from records where type = $1 and id = any($2::bigint[])`,
    [type.key, ids.filter((id) => /^\d{1,15}$/.test(id))],
  );
  return Object.fromEntries(rows.map((r) => [String(r.id), recordTitle(type, r.data) || 'no name']));
}

import type { TraceEntry } from '@rigid-rule/core/compile';
import type { RecordData, RecordType } from '@rigid-rule/core/document';
import { recordTitle } from '@rigid-rule/core/language';
import type { Change } from '@rigid-rule/core/settle';
import { db, type Queryable } from './pool.ts';
import { together } from './together.ts';

export interface StoredRecord {
  readonly id: number;
  readonly data: RecordData;
  readonly held: readonly string[];
  readonly version: number;
  readonly changedAt: Date;
}

/** The columns of a `StoredRecord`, of the table that a query calls `alias`. */
export const recordColumns = (alias: string): string =>
  ['id', 'data', 'held', 'version', 'changed_at as "changedAt"'].map((c) => `${alias}.${c}`).join(', ');

export async function findRecord(type: string, id: number, on: Queryable = db()): Promise<StoredRecord | undefined> {
  return (await findRecords(type, [id], on))[0];
}

export async function findRecords(type: string, ids: readonly number[], on: Queryable): Promise<StoredRecord[]> {
  if (ids.length === 0) return [];
  if (on === db() && ids.length <= fewIds) {
    const found = await Promise.all([...new Set(ids)].map((id) => findOne({ type, id })));
    return found.filter((r) => r !== undefined).sort((a, b) => a.id - b.id);
  }
  const { rows } = await on.query<StoredRecord>({
    name: 'find-records',
    text: `select ${recordColumns('r')} from records r where type = $1 and id = any($2) order by id`,
    values: [type, ids],
  });
  return rows;
}

interface RecordKey {
  readonly type: string;
  readonly id: number;
}

/** So few are asked for together with those of other requests. */
const fewIds = 10;
const findOne = together<RecordKey, StoredRecord | undefined>(async (keys) =>
  (await beginnings(keys, db())).map((b) => b.stored),
);

/** What every write begins with: the release that is live, and the record that it changes or the id of a new one. */
export interface Beginning {
  readonly release: number | null;
  readonly stored: StoredRecord | undefined;
}

export const beginChange = (type: string, id: number, on: Queryable): Promise<Beginning> =>
  on === db() ? beginOne({ type, id }) : beginnings([{ type, id }], on).then(([beginning]) => beginning!);

const beginOne = together<RecordKey, Beginning>((keys) => beginnings(keys, db()));

/** Of each record, all at one moment. */
async function beginnings(keys: readonly RecordKey[], on: Queryable): Promise<Beginning[]> {
  const { rows } = await on.query<{ release: number | null } & Omit<StoredRecord, 'id'> & { id: number | null }>({
    name: 'begin-change',
    text: 'select * from begin_changes($1, $2)',
    values: [keys.map((k) => k.type), keys.map((k) => k.id)],
  });
  return rows.map(({ release, ...record }) => ({
    release,
    stored: record.id === null ? undefined : { ...record, id: record.id },
  }));
}

/** The next id of a type: a new record has it before its rules look at it. It is gone, whatever becomes of the record. */
export const takeRecordId = together<string, number>(async (types) => {
  // In one order for all: those who take ids of several types never wait for each other in a circle.
  const distinct = [...new Set(types)].sort();
  const counts = distinct.map((type) => types.filter((t) => t === type).length);
  const { rows } = await db().query<{ type: string; last: number }>({
    name: 'take-record-ids',
    text: 'select t.type, take_record_ids(t.type, t.many) as last from unnest($1::text[], $2::integer[]) as t(type, many)',
    values: [distinct, counts],
  });
  const next = new Map(rows.map(({ type, last }) => [type, last - counts[distinct.indexOf(type)]! + 1]));
  return types.map((type) => {
    const id = next.get(type)!;
    next.set(type, id + 1);
    return id;
  });
});

/** Id of the first record of a type whose field holds a text, in any case. */
export async function findByText(type: string, field: string, text: string): Promise<number | undefined> {
  const { rows } = await db().query<{ id: number }>(
    `select id from records where type = $1 and lower(data->>$2) = lower($3) order by id limit 1`,
    [type, field, text],
  );
  return rows[0]?.id;
}

/** The id that `takeRecordId` would give now; nobody has it yet. */
export async function nextRecordId(type: string, on: Queryable): Promise<number> {
  const { rows } = await on.query<{ last: number }>('select last from record_ids where type = $1', [type]);
  return (rows[0]?.last ?? 0) + 1;
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

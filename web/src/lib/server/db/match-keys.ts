/** Keys under which records are found by the values of their fields: worked out by core, stored with the records. */
import { keyOfStored, matchModes, soughtKeys, type MatchMode, type RecordData, type Stored } from '@rigid-rule/core';
import type { Queryable } from './pool.ts';

interface Index {
  readonly field: string;
  readonly mode: MatchMode;
}

const isMode = (mode: string): mode is MatchMode => (matchModes as readonly string[]).includes(mode);

/** Writes a record's keys anew, for the indexes that its type has. */
export async function putMatchKeys(type: string, id: number, data: RecordData, on: Queryable): Promise<void> {
  const { rows } = await on.query<Index>('select field, mode from match_indexes where type = $1', [type]);
  if (rows.length === 0) return;
  await on.query('delete from match_keys where type = $1 and id = $2', [type, id]);
  await insertKeys(
    type,
    rows.flatMap((index) => {
      const key = keyOfStored(index.mode, data[index.field]);
      return key === null ? [] : [{ ...index, key, id }];
    }),
    on,
  );
}

async function insertKeys(
  type: string,
  keys: readonly (Index & { readonly key: string; readonly id: number })[],
  on: Queryable,
): Promise<void> {
  await on.query(
    `insert into match_keys (type, field, mode, key, id)
     select $1, k.field, k.mode, k.key, k.id
       from jsonb_to_recordset($2::jsonb) as k (field text, mode text, key text, id bigint)`,
    [type, JSON.stringify(keys)],
  );
}

/** Forgets a type's indexes: they begin anew when they are next asked for. */
export async function dropMatchIndexes(type: string, on: Queryable): Promise<void> {
  await on.query('delete from match_keys where type = $1', [type]);
  await on.query('delete from match_indexes where type = $1', [type]);
}

async function ensureIndex(type: string, index: Index, on: Queryable): Promise<void> {
  const { rowCount } = await on.query(
    'insert into match_indexes (type, field, mode) values ($1, $2, $3) on conflict do nothing',
    [type, index.field, index.mode],
  );
  if (rowCount === 0) return;
  const { rows } = await on.query<{ id: number; value: Stored }>(
    `select id, data -> $2 as value from records where type = $1 and data ->> $2 is not null`,
    [type, index.field],
  );
  const keys = rows.flatMap(({ id, value }) => {
    const key = keyOfStored(index.mode, value);
    return key === null ? [] : [{ ...index, key, id }];
  });
  if (keys.length > 0) await insertKeys(type, keys, on);
}

/** For each sought value the ids of the records that its best key finds; one query for all of them. */
export async function findByKeys(
  type: string,
  field: string,
  mode: string,
  values: readonly string[],
  on: Queryable,
): Promise<readonly (readonly number[])[]> {
  if (!isMode(mode)) return values.map(() => []);
  await ensureIndex(type, { field, mode }, on);
  const sought = values.map((v) => soughtKeys(mode, v));
  const { rows } = await on.query<{ key: string; id: number }>(
    'select key, id from match_keys where type = $1 and field = $2 and mode = $3 and key = any($4) order by id',
    [type, field, mode, [...new Set(sought.flat())]],
  );
  const byKey = groupBy(rows);
  return sought.map((keys) => byKey.get(keys.find((k) => byKey.has(k)) ?? '') ?? []);
}

function groupBy(rows: readonly { key: string; id: number }[]): Map<string, number[]> {
  const found = new Map<string, number[]>();
  for (const { key, id } of rows) {
    const list = found.get(key);
    if (list) list.push(id);
    else found.set(key, [id]);
  }
  return found;
}

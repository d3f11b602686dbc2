/** Keys under which records are found by the values of their fields: worked out by core, stored with the records. */
import {
  keyOfStored,
  matchModes,
  soughtKeys,
  type MatchMode,
  type RecordData,
  type SearchIndex,
  type Stored,
} from '@rigid-rule/core';
import { createHash } from 'node:crypto';
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
    [type, JSON.stringify(keys.map(boundedKey))],
  );
}

/** Works the keys of a type out anew, for records that came in without a write. */
export async function rebuildMatchKeys(type: string, on: Queryable): Promise<void> {
  await on.query('delete from match_keys where type = $1', [type]);
  const { rows } = await on.query<Index>('select field, mode from match_indexes where type = $1', [type]);
  for (const index of rows) await insertKeys(type, await keysOf(type, index, on), on);
}

async function keysOf(type: string, { field, mode }: Index, on: Queryable): Promise<Parameters<typeof insertKeys>[1]> {
  const { rows } = await on.query<{ id: number; value: Stored }>(
    `select id, data -> $2 as value from records where type = $1 and data ->> $2 is not null order by id`,
    [type, field],
  );
  return rows.flatMap(({ id, value }) => {
    const key = keyOfStored(mode, value);
    return key === null ? [] : [{ field, mode, key, id }];
  });
}

/**
 * Makes the indexes that a rulebook's rules search by and that are not there yet. Nobody writes a record meanwhile, so
 * that none is left out: it has to be the first thing of its transaction.
 */
export async function prepareIndexes(indexes: readonly SearchIndex[], on: Queryable): Promise<void> {
  await on.query('lock table records in share row exclusive mode');
  const { rows } = await on.query<{ type: string } & Index>('select type, field, mode from match_indexes');
  const there = new Set(rows.map((r) => `${r.type}\0${r.field}\0${r.mode}`));
  for (const { recordType, field, mode } of indexes) {
    if (there.has(`${recordType}\0${field}\0${mode}`)) continue;
    await on.query('insert into match_indexes (type, field, mode) values ($1, $2, $3)', [recordType, field, mode]);
    await insertKeys(recordType, await keysOf(recordType, { field, mode }, on), on);
  }
}

/** Keys are part of a B-tree, which holds no long ones: those stand as their SHA-256. */
const longestKey = 200;
const bounded = (key: string): string =>
  key.length <= longestKey ? key : `sha256:${createHash('sha256').update(key).digest('hex')}`;

/** For each sought value the ids of the records that its best key finds; one query for all of them. */
export async function findByKeys(
  type: string,
  field: string,
  mode: string,
  values: readonly string[],
  on: Queryable,
): Promise<readonly (readonly number[])[]> {
  if (!isMode(mode)) return values.map(() => []);
  const sought = values.map((v) => soughtKeys(mode, v).map(bounded));
  const { rowCount } = await on.query('select from match_indexes where type = $1 and field = $2 and mode = $3', [
    type,
    field,
    mode,
  ]);
  // Rightly, if slowly: a reader never makes an index.
  if (rowCount === 0) return found(groupBy((await keysOf(type, { field, mode }, on)).map(boundedKey)), sought);
  const { rows } = await on.query<{ key: string; id: number }>(
    'select key, id from match_keys where type = $1 and field = $2 and mode = $3 and key = any($4) order by id',
    [type, field, mode, [...new Set(sought.flat())]],
  );
  return found(groupBy(rows), sought);
}

const boundedKey = <K extends { readonly key: string }>(k: K): K => ({ ...k, key: bounded(k.key) });

/** For each sought value the ids that the best of its keys finds. */
const found = (byKey: ReadonlyMap<string, number[]>, sought: readonly (readonly string[])[]): number[][] =>
  sought.map((keys) => byKey.get(keys.find((k) => byKey.has(k)) ?? '') ?? []);

function groupBy(rows: readonly { key: string; id: number }[]): Map<string, number[]> {
  const found = new Map<string, number[]>();
  for (const { key, id } of rows) {
    const list = found.get(key);
    if (list) list.push(id);
    else found.set(key, [id]);
  }
  return found;
}

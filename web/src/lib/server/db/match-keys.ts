/** Keys under which records are found by the values of their fields: worked out by core, stored with the records. */
import type { SearchIndex } from '@rigid-rule/core/compile';
import type { RecordData, Stored } from '@rigid-rule/core/document';
import { keyOfStored, matchModes, type MatchMode } from '@rigid-rule/core/values';
import { createHash } from 'node:crypto';
import { db, type Queryable } from './pool.ts';
import { recordColumns, type StoredRecord } from './records.ts';
import { together } from './together.ts';

export interface Index {
  readonly type: string;
  readonly field: string;
  readonly mode: MatchMode;
}

export interface MatchKey extends Index {
  readonly key: string;
  readonly id: number;
}

export const isMode = (mode: string): mode is MatchMode => (matchModes as readonly string[]).includes(mode);

/** Indexes in the order in which the database lists them: by their names' bytes. */
export async function listIndexes(types: readonly string[], on: Queryable): Promise<readonly Index[]> {
  const { rows } = await on.query<Index>({
    name: 'list-indexes',
    text: 'select type, field, mode from match_indexes where type = any($1) order by type, field, mode',
    values: [types],
  });
  return rows;
}

/** By record type; as they were when they were last asked for. Storing a write finds out where they are others by now. */
const remembered = new Map<string, readonly Index[]>();

/** The indexes of some types, in order, as this process knows them. */
export async function indexesOf(types: readonly string[], on: Queryable): Promise<readonly Index[]> {
  const unknown = types.filter((t) => !remembered.has(t));
  if (unknown.length > 0) {
    const found = await listIndexes(unknown, on);
    for (const type of unknown)
      remembered.set(
        type,
        found.filter((i) => i.type === type),
      );
  }
  return [...types].sort().flatMap((type) => remembered.get(type) ?? []);
}

/** What was known of indexes is asked for anew. */
export function forgetIndexes(): void {
  remembered.clear();
  seen.clear();
}

/** Keys of a record for some of its type's indexes, by index. */
export function keysOf(indexes: readonly Index[], type: string, id: number, data: RecordData): readonly MatchKey[] {
  return indexes.flatMap((index) => {
    const key = index.type === type ? keyOfStored(index.mode, data[index.field]) : null;
    return key === null ? [] : [{ ...index, key: bounded(key), id }];
  });
}

async function insertKeys(keys: readonly MatchKey[], on: Queryable): Promise<void> {
  await on.query(
    `insert into match_keys (type, field, mode, key, id)
     select type, field, mode, key, id
       from jsonb_to_recordset($1::jsonb) as k (type text, field text, mode text, key text, id bigint)`,
    [JSON.stringify(keys)],
  );
}

/** Works the keys of a type out anew, for records that came in without a write. */
export async function rebuildMatchKeys(type: string, on: Queryable): Promise<void> {
  for (const index of await listIndexes([type], on)) await makeAnew(index, on);
}

/** What the keys of an index have to be, by the records as they are. */
export async function allKeys(index: Index, on: Queryable): Promise<readonly MatchKey[]> {
  const { type, field } = index;
  const { rows } = await on.query<{ id: number; value: Stored }>(
    `select id, data -> $2 as value from records where type = $1 and data ->> $2 is not null order by id`,
    [type, field],
  );
  return rows.flatMap(({ id, value }) => keysOf([index], type, id, { [field]: value }));
}

/** Every index that there is. */
export async function listAllIndexes(on: Queryable): Promise<readonly Index[]> {
  const { rows } = await on.query<Index>('select type, field, mode from match_indexes order by type, field, mode');
  return rows;
}

/** The keys of an index as they are stored. */
export async function storedKeys({ type, field, mode }: Index, on: Queryable): Promise<readonly MatchKey[]> {
  const { rows } = await on.query<MatchKey>(
    'select type, field, mode, key, id from match_keys where type = $1 and field = $2 and mode = $3',
    [type, field, mode],
  );
  return rows;
}

/** The keys of an index, from the records as they are. */
export async function makeAnew(index: Index, on: Queryable): Promise<void> {
  const { type, field, mode } = index;
  await on.query('delete from match_keys where type = $1 and field = $2 and mode = $3', [type, field, mode]);
  await insertKeys(await allKeys(index, on), on);
}

/** Nobody writes a record until the transaction ends, so that none is left out: the first thing of its transaction. */
export async function lockRecords(on: Queryable): Promise<void> {
  await on.query('lock table records in share row exclusive mode');
}

/** Makes the indexes that a rulebook's rules search by and that are not there yet, with no writer about. */
export async function prepareIndexes(indexes: readonly SearchIndex[], on: Queryable): Promise<void> {
  const there = new Set((await listAllIndexes(on)).map(nameOf));
  const missing = indexes
    .map(({ recordType, field, mode }): Index => ({ type: recordType, field, mode }))
    .filter((index) => !there.has(nameOf(index)));
  if (missing.length === 0) return;
  await lockRecords(on);
  for (const index of missing) {
    const { type, field, mode } = index;
    const { rowCount } = await on.query(
      'insert into match_indexes (type, field, mode) values ($1, $2, $3) on conflict do nothing',
      [type, field, mode],
    );
    if (rowCount === 1) await insertKeys(await allKeys(index, on), on);
  }
}

/** Keys are part of a B-tree, which holds no long ones: those stand as their SHA-256. */
const longestKey = 200;
export const bounded = (key: string): string =>
  key.length <= longestKey ? key : `sha256:${createHash('sha256').update(key).digest('hex')}`;

const nameOf = ({ type, field, mode }: Index): string => `${type}\0${field}\0${mode}`;

/** An index that is there is whole and stays: what was seen once need not be asked again. */
const seen = new Set<string>();

export async function isIndexed(index: Index, on: Queryable): Promise<boolean> {
  const name = nameOf(index);
  if (seen.has(name)) return true;
  const { rowCount } = await on.query('select from match_indexes where type = $1 and field = $2 and mode = $3', [
    index.type,
    index.field,
    index.mode,
  ]);
  if (rowCount === 1) seen.add(name);
  return rowCount === 1;
}

export type Found = StoredRecord & { readonly key: string };

/** Records that any of the keys finds, each with its key. */
export const findByKeys = (index: Index, keys: readonly string[], on: Queryable): Promise<readonly Found[]> =>
  on === db() ? findTogether({ index, keys }) : findEach([{ index, keys }], on).then(([found]) => found!);

interface KeyQuestion {
  readonly index: Index;
  readonly keys: readonly string[];
}

const findTogether = together<KeyQuestion, readonly Found[]>((questions) => findEach(questions, db()));

async function findEach(questions: readonly KeyQuestion[], on: Queryable): Promise<Found[][]> {
  const sought = questions.flatMap(({ index: { type, field, mode }, keys }, n) =>
    keys.map((key) => [n, type, field, mode, key] as const),
  );
  const { rows } = await on.query<Found & { n: number }>({
    name: 'find-by-keys',
    text: `select q.n, k.key, ${recordColumns('r')}
             from unnest($1::integer[], $2::text[], $3::text[], $4::text[], $5::text[]) as q(n, type, field, mode, key)
             join match_keys k on k.type = q.type and k.field = q.field and k.mode = q.mode and k.key = q.key
             join records r on r.type = k.type and r.id = k.id order by k.id`,
    values: [0, 1, 2, 3, 4].map((i) => sought.map((s) => s[i])),
  });
  const found = questions.map((): Found[] => []);
  for (const { n, ...row } of rows) found[n]!.push(row);
  return found;
}

/** The same without an index: by a look at every record. */
export async function scanForKeys(index: Index, keys: readonly string[], on: Queryable): Promise<readonly Found[]> {
  const wanted = new Set(keys);
  const { rows } = await on.query<StoredRecord>(
    `select ${recordColumns('r')} from records r where type = $1 and data ->> $2 is not null order by id`,
    [index.type, index.field],
  );
  return rows.flatMap((record) =>
    keysOf([index], index.type, record.id, record.data).flatMap(({ key }) =>
      wanted.has(key) ? [{ ...record, key }] : [],
    ),
  );
}

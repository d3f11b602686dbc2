/** Lists of records: filtered, sorted, a window at a time or the whole as a stream. */
import type { Field, RecordData, RecordType } from '@rigid-rule/core/document';
import { linkedType, fieldTypeOf } from '@rigid-rule/core/language';
import { withOffset } from '../../instants.ts';
import type { ListFilter } from '../../list-filters.ts';
import { db, type Queryable } from './pool.ts';
import { recordColumns, type StoredRecord } from './records.ts';

export interface ListRequest {
  /** Part of the record's title, folded. */
  readonly search: string;
  readonly filters: readonly ListFilter[];
  /** IANA zone in which days of instants are meant. */
  readonly zone: string;
  readonly sort: string;
  readonly descending: boolean;
  readonly offset: number;
  readonly limit: number;
}

export interface ListRow {
  readonly id: number;
  readonly data: RecordData;
}

export interface ListPage {
  readonly total: number;
  readonly offset: number;
  readonly rows: readonly ListRow[];
}

interface ListQuery {
  /** Everything behind `where`. */
  readonly condition: string;
  /** Everything behind `order by`. */
  readonly order: string;
  /** Those of the condition stand first. */
  readonly parameters: readonly unknown[];
  readonly ofCondition: number;
}

type Bind = (value: unknown) => string;

/** Field keys come from the record type, values go as parameters. */
function listQuery(
  type: RecordType,
  request: Pick<ListRequest, 'search' | 'filters' | 'zone' | 'sort' | 'descending'>,
  recordTypes: readonly RecordType[],
): ListQuery {
  const parameters: unknown[] = [type.key];
  const bind: Bind = (v) => `$${parameters.push(v)}`;
  const where = [`type = $1`];
  const search = request.search.trim();
  if (search) where.push(`${titleOf(type, 'data', bind)} ilike ${bind(like(search))}`);
  for (const filter of request.filters) where.push(...conditionsOf(filter, request.zone, bind, recordTypes));
  const ofCondition = parameters.length;
  const sorted = type.fields.find((f) => f.key === request.sort);
  const direction = request.descending ? 'desc' : 'asc';
  const order = sorted ? `${sortExpression(sorted, bind, recordTypes)} ${direction} nulls last, id` : `id ${direction}`;
  return { condition: where.join(' and '), order, parameters, ofCondition };
}

/** One window of the sorted, filtered list. */
export async function listRecords(
  type: RecordType,
  request: ListRequest,
  recordTypes: readonly RecordType[] = [type],
): Promise<ListPage> {
  const { condition, order, parameters, ofCondition } = listQuery(type, request, recordTypes);
  const total = await db().query<{ n: number }>(
    `select count(*)::int as n from records where ${condition}`,
    parameters.slice(0, ofCondition),
  );
  const place = parameters.length;
  const { rows } = await db().query<ListRow>(
    `select id, data from records where ${condition} order by ${order} limit $${place + 1} offset $${place + 2}`,
    [...parameters, request.limit, request.offset],
  );
  return { total: total.rows[0]!.n, offset: request.offset, rows };
}

const rowsAtOnce = 1_000;

/** The whole list in its order, some rows at a time, all of one moment. */
export async function* streamRecords(
  type: RecordType,
  request: Omit<ListRequest, 'offset' | 'limit'>,
  recordTypes: readonly RecordType[],
): AsyncGenerator<readonly ListRow[]> {
  const { condition, order, parameters } = listQuery(type, request, recordTypes);
  const client = await db().connect();
  let done = false;
  try {
    await client.query('begin isolation level repeatable read read only');
    // Whoever reads it slowly is waited for.
    await client.query(`set local idle_in_transaction_session_timeout = '10min'`);
    await client.query(
      `declare list no scroll cursor for select id, data from records where ${condition} order by ${order}`,
      [...parameters],
    );
    for (;;) {
      const { rows } = await client.query<ListRow>(`fetch ${rowsAtOnce} from list`);
      if (rows.length === 0) break;
      yield rows;
    }
    await client.query('commit');
    done = true;
  } finally {
    // A reader that goes away in the middle leaves an open transaction, which must not go back to the pool.
    client.release(!done);
  }
}

/** What holds a text, for `like`. */
export const like = (text: string): string => `%${text.replace(/[\\%_]/g, '\\$&')}%`;

/** The title of a record, in SQL. `data`: the column that holds its values. */
export const titleOf = (type: RecordType, data: string, bind: Bind): string =>
  `concat_ws(' ', ${type.title.map((key) => `${data}->>${bind(key)}`).join(', ')})`;

/** SQL for the id that a lookup holds; null where it is no number. */
const linkedId = (text: string): string => `case when ${text} ~ '^[0-9]{1,15}$' then (${text})::bigint end`;

/** What a filter demands of a record, each part an SQL condition. */
function conditionsOf(
  filter: ListFilter,
  zone: string,
  bind: Bind,
  recordTypes: readonly RecordType[],
): readonly string[] {
  const { field, only, from, to, has, is } = filter;
  // The key comes from the record type; it is a parameter all the same.
  const key = bind(field.key);
  const text = `records.data->>${key}`;
  const value = `records.data->${key}`;
  const isBlank = `coalesce(${text}, '') in ('', '[]')`;
  const found: string[] = [];
  if (is) found.push(is === 'blank' ? isBlank : `not (${isBlank})`);
  if (only) {
    const given = only.filter(Boolean);
    const wanted =
      fieldTypeOf(field).chooses === 'many' ? `${value} ?| ${bind(given)}` : `${text} = any(${bind(given)})`;
    found.push(only.includes('') ? `(${isBlank} or ${wanted})` : `(${wanted})`);
  }
  const type = fieldTypeOf(field);
  const [low, high] = [from, to].map((b, i) => b && (type.instant ? dayEdge(b, i, zone) : b));
  const bound = (b: string): string => `${bind(b)}::${type.sql.as}`;
  // An instant is below the beginning of the next day; all else is at most the bound.
  if (low) found.push(`${comparable(field, key, bind)} >= ${bound(low)}`);
  if (high) found.push(`${comparable(field, key, bind)} ${type.instant ? '<' : '<='} ${bound(high)} and ${text} <> ''`);
  if (has) found.push(hasText(field, text, has, bind, recordTypes));
  return found;
}

function hasText(field: Field, text: string, has: string, bind: Bind, recordTypes: readonly RecordType[]): string {
  const other = recordTypes.find((t) => t.key === linkedType(field));
  if (!other) return `${text} ilike ${bind(like(has))}`;
  return `exists (select from records o where o.type = ${bind(other.key)} and o.id = ${linkedId(text)}
    and ${titleOf(other, 'o.data', bind)} ilike ${bind(like(has))})`;
}

/** The beginning of a day there as a stored instant; `after`: 1 for that of the day after. */
function dayEdge(day: string, after: number, zone: string): string {
  const at = new Date(`${day}T00:00:00Z`);
  at.setUTCDate(at.getUTCDate() + after);
  return `${new Date(withOffset(`${at.toISOString().slice(0, 10)}T00:00`, zone)).toISOString().slice(0, 19)}Z`;
}

/** Sorts as the field type's `compare` does: options in their order, text by code point, links and users by their names. */
function sortExpression(field: Field, bind: (v: unknown) => string, recordTypes: readonly RecordType[]): string {
  const other = recordTypes.find((t) => t.key === linkedType(field));
  if (other) {
    // Inside the inner query `data` would be that of the other record.
    const text = `records.data->>${bind(field.key)}`;
    return `(select lower(${titleOf(other, 'o.data', bind)}) from records o where o.type = ${bind(other.key)} and o.id = ${linkedId(text)})`;
  }
  const type = fieldTypeOf(field);
  if (type.chooses === 'many') {
    const keys = bind((field.options ?? []).map((o) => o.key));
    const places = `select array_position(${keys}::text[], k) as p from jsonb_array_elements_text(data->${bind(field.key)}) k`;
    return `case when jsonb_typeof(data->${bind(field.key)}) = 'array' then (select array_agg(p order by p) from (${places}) x) end`;
  }
  const key = bind(field.key);
  const text = `data->>${key}`;
  if (type.users) return `(select lower(u.name) from users u where u.email = lower(${text}))`;
  if (field.options) return `array_position(${bind(field.options.map((o) => o.key))}::text[], ${text})`;
  return comparable(field, key, bind);
}

/**
 * SQL for what is stored as a value that compares; null where it is still of the type that the field had before.
 * `key`: the parameter that holds the field's key.
 */
function comparable(field: Field, key: string, bind: Bind): string {
  const { json, as, like } = fieldTypeOf(field).sql;
  const text = `records.data->>${key}`;
  if (as === 'text') return `(${text}) collate "C"`;
  const fits = `jsonb_typeof(records.data->${key}) = '${json}'${like === undefined ? '' : ` and ${text} ~ ${bind(like)}`}`;
  return `case when ${fits} then (${text})::${as} end`;
}

/** Records of a type after an id, in order of id. */
export async function recordsInOrder(
  type: string,
  after: number,
  most: number,
  on: Queryable = db(),
): Promise<StoredRecord[]> {
  const { rows } = await on.query<StoredRecord>(
    `select ${recordColumns('r')} from records r where type = $1 and id > $2 order by id limit $3`,
    [type, after, most],
  );
  return rows.map((r) => ({ ...r, id: Number(r.id) }));
}

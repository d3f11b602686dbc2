import { editPartBody, type Operation, type Part, type PartKind, type PartRef } from '@rigid-rule/core/document';
import type {
  EditsClash,
  EditsSaved,
  PartClash,
  PartEdited,
  RemoteEdit,
  SentEdit,
  VersionedPart,
} from '../../draft-protocol.ts';
import { areRowOperations, storeRows, TableRows, withoutLongRows } from './draft-rows.ts';
import type pg from 'pg';
import { notify } from './notices.ts';
import { serializable } from './transaction.ts';
import { db, type Queryable } from './pool.ts';

/** Tells one state of the draft from every other, without reading what its parts hold. */
export async function draftStamp(on: Queryable = db()): Promise<string> {
  const { rows } = await on.query<{ stamp: string }>({
    name: 'draft-stamp',
    text: `select concat_ws(' ', count(*), sum(version), sum(hashtextextended(kind || key || position, 0)), max(changed_at),
                            (select max(id) from draft_edits)) as stamp
             from draft_parts`,
  });
  return rows[0]!.stamp;
}

/** Edits up to which somebody who comes late is told of them one by one. */
const mostToldLate = 50;

/**
 * The edits that led from the draft of a stamp to that of another, for who has not heard of them; undefined where there are
 * many, or where they do not account for all that is different, such as a part that was made or taken away.
 */
export async function editsBetween(since: string, now: string): Promise<readonly DraftNotice[] | undefined> {
  const [before, after] = [stampParts(since), stampParts(now)];
  if (!before || !after || before.parts !== after.parts) return undefined;
  const { rows } = await db().query<Omit<DraftNotice, 'page'>>(
    `select e.id::int as edit, e.kind, e.key, u.name as by from draft_edits e join users u on u.id = e.user_id
      where e.id > $1 and e.id <= $2 order by e.id limit $3`,
    [before.edit, after.edit, mostToldLate + 1],
  );
  // An edit makes a part's version one more.
  if (rows.length > mostToldLate || rows.length !== after.versions - before.versions) return undefined;
  return rows.map((row) => ({ ...row, page: '' }));
}

/** How many parts there are, the sum of their versions, and the last edit. */
function stampParts(stamp: string): { parts: number; versions: number; edit: number } | undefined {
  const found = /^(\d+) (\d+) .* (\d+)$/.exec(stamp);
  return found ? { parts: Number(found[1]), versions: Number(found[2]), edit: Number(found[3]) } : undefined;
}

/** Who edited parts of the draft last, in their order; undefined where nobody did since they came with the installation. */
export async function lastEditors(
  parts: readonly PartRef[],
): Promise<readonly ({ readonly by: string; readonly at: Date } | undefined)[]> {
  const { rows } = await db().query<{ n: string; by: string; at: Date }>(
    `select k.n, u.name as by, e.at
       from unnest($1::text[], $2::text[]) with ordinality as k (kind, key, n)
      cross join lateral (select user_id, at from draft_edits as d where d.kind = k.kind and d.key = k.key
                           order by d.id desc limit 1) as e
       join users as u on u.id = e.user_id`,
    [parts.map((p) => p.kind), parts.map((p) => p.key)],
  );
  const found = new Map(rows.map(({ n, by, at }) => [Number(n), { by, at }]));
  return parts.map((_, i) => found.get(i + 1));
}

export async function lastDraftEdit(): Promise<{ at: Date; by: string } | undefined> {
  const { rows } = await db().query<{ at: Date; by: string }>(
    `select e.at, u.name as by from draft_edits e join users u on u.id = e.user_id order by e.id desc limit 1`,
  );
  return rows[0];
}

export async function insertParts(parts: readonly Part[], on: Queryable): Promise<void> {
  const stored = parts.map((part) => ({ part, ...withoutLongRows(part.body) }));
  await on.query(
    `insert into draft_parts (kind, key, position, body)
     select * from jsonb_to_recordset($1::jsonb) as p (kind text, key text, position double precision, body jsonb)`,
    [JSON.stringify(stored.map(({ part, body }) => ({ ...part, body })))],
  );
  for (const { part, rows } of stored) if (rows) await storeRows(part.key, rows, on);
}

/** What is told of an edit: small, since a notification holds 8,000 bytes; what it did is read by whoever hears of it. */
export interface DraftNotice {
  readonly kind: PartKind;
  readonly key: string;
  /** Its number. */
  readonly edit: number;
  readonly by: string;
  /** Names the page that made the edit, so that it does not hear its own. */
  readonly page: string;
}

export interface EditContext {
  readonly user: { readonly id: number; readonly name: string };
  readonly page: string;
  readonly check: (part: PartRef, body: unknown) => void;
}

/**
 * Applies edits to parts of the draft, all or none: none where somebody changed one of them since its version.
 * @throws {PatchError} where an operation does not fit a part; what `check` throws.
 */
export async function editParts(edits: readonly SentEdit[], context: EditContext): Promise<EditsSaved | EditsClash> {
  return serializable(async (client) => {
    const found: (LockedPart | undefined)[] = [];
    for (const edit of edits) found.push(await lockPart(edit, client));
    const done = await editsDone(edits, client);
    const clashes: PartClash[] = [];
    for (const [i, edit] of edits.entries()) {
      const there = found[i];
      if (done.has(edit.id ?? '') || (there?.part.version ?? 0) === edit.version) continue;
      const { kind, key } = edit;
      clashes.push({ kind, key, by: there?.by ?? null, ...(there ? { part: await wholePart(there) } : {}) });
    }
    if (clashes.length > 0) return { outcome: 'clash', clashes };
    const versions = [];
    for (const [i, edit] of edits.entries()) {
      const part = found[i];
      // What others did since an edit that came before is not what its page has: it hears of that on its own.
      const version = done.get(edit.id ?? '') ?? (await storeEdit(edit, part, context, client));
      versions.push({ kind: edit.kind, key: edit.key, version });
    }
    return { outcome: 'saved', versions };
  });
}

/** Ids of those edits that came before, with the version that each made; 0 where it took the part away. */
async function editsDone(edits: readonly SentEdit[], client: pg.PoolClient): Promise<ReadonlyMap<string, number>> {
  const ids = edits.flatMap((e) => (e.id === undefined ? [] : [e.id]));
  const { rows } = await client.query<{ id: string; version: number }>(
    `select edit_id as id, case when operations @> '[{"op":"remove","path":""}]' then 0 else version end as version
       from draft_edits where edit_id = any($1::uuid[])`,
    [ids],
  );
  return new Map(rows.map((r) => [r.id, r.version]));
}

interface LockedPart {
  /** Without its rows, where those stand apart. */
  readonly part: VersionedPart;
  readonly rows: TableRows | undefined;
  readonly by: string | null;
}

async function lockPart({ kind, key }: PartRef, client: pg.PoolClient): Promise<LockedPart | undefined> {
  const { rows } = await client.query<VersionedPart & { by: string | null }>(
    `select p.kind, p.key, p.position, p.version, p.body, u.name as by
       from draft_parts p left join users u on u.id = p.changed_by
      where p.kind = $1 and p.key = $2 for update of p`,
    [kind, key],
  );
  if (!rows[0]) return undefined;
  const { by, ...part } = rows[0];
  return { part, by, rows: kind === 'table' ? await TableRows.open(key, client) : undefined };
}

const wholePart = async ({ part, rows }: LockedPart): Promise<VersionedPart> =>
  rows ? { ...part, body: { ...(part.body as object), rows: await rows.all() } } : part;

/**
 * The version that the next edit of a part makes. It goes on where a part was taken away and made again, so that a page
 * that heard of neither never takes the new one for that which it knows.
 */
async function nextVersion({ kind, key }: PartRef, there: VersionedPart | undefined, on: Queryable): Promise<number> {
  if (there) return there.version + 1;
  const { rows } = await on.query<{ version: number }>(
    `select coalesce(max(version), 0)::int + 1 as version from draft_edits where kind = $1 and key = $2`,
    [kind, key],
  );
  return rows[0]!.version;
}

/** Returns the new version; 0 where the part was taken away. */
async function storeEdit(
  edit: SentEdit,
  found: LockedPart | undefined,
  context: EditContext,
  client: pg.PoolClient,
): Promise<number> {
  const { kind, key, operations, id } = edit;
  const { user, page } = context;
  const version = await nextVersion(edit, found?.part, client);
  const byRow = found?.rows && edit.position === undefined && areRowOperations(operations);
  const { inverse, gone } = byRow
    ? await storeRowEdit(edit, version, found.part, found.rows, context, client)
    : await storeWhole(edit, version, found, context, client);
  const { rows } = await client.query<{ id: number }>(
    `insert into draft_edits (kind, key, version, operations, inverse, user_id, edit_id)
     values ($1, $2, $3, $4, $5, $6, $7) returning id`,
    [kind, key, version, JSON.stringify(operations), JSON.stringify(inverse), user.id, id ?? null],
  );
  const notice: DraftNotice = { kind, key, edit: rows[0]!.id, by: user.name, page };
  await notify('draft_edit', notice, client);
  return gone ? 0 : version;
}

interface StoredEdit {
  readonly inverse: readonly Operation[];
  /** The part was taken away. */
  readonly gone: boolean;
}

/** An edit of rows that stand apart from their table. */
async function storeRowEdit(
  { kind, key, operations }: SentEdit,
  version: number,
  { body }: VersionedPart,
  rows: TableRows,
  { user, check }: EditContext,
  client: pg.PoolClient,
): Promise<StoredEdit> {
  const inverse = await rows.edit(operations);
  check({ kind, key }, { ...(body as object), rows: rows.changed });
  await rows.store();
  const frame = rows.count > 0 ? body : { ...(body as object), rows: [] };
  await putPart({ kind, key }, frame, version, undefined, user.id, client);
  return { inverse, gone: false };
}

async function storeWhole(
  { kind, key, operations, position }: SentEdit,
  version: number,
  found: LockedPart | undefined,
  { user, check }: EditContext,
  client: pg.PoolClient,
): Promise<StoredEdit> {
  const part = found && (await wholePart(found));
  const { body, inverse } = editPartBody(part?.body as object | undefined, operations);
  if (body === undefined) {
    await client.query(`delete from draft_parts where kind = $1 and key = $2`, [kind, key]);
    return { inverse, gone: true };
  }
  check({ kind, key }, body);
  const { body: frame, rows = [] } = kind === 'table' ? withoutLongRows(body) : { body };
  await putPart({ kind, key }, frame, version, position, user.id, client);
  if (found?.rows || rows.length > 0) await storeRows(key, rows, client);
  return { inverse, gone: false };
}

async function putPart(
  { kind, key }: PartRef,
  body: unknown,
  version: number,
  position: number | undefined,
  userId: number,
  client: pg.PoolClient,
): Promise<void> {
  await client.query(
    `insert into draft_parts (kind, key, position, version, body, changed_by, changed_at)
     values ($1, $2, coalesce($3::double precision, 0), $4, $5, $6, now())
     on conflict (kind, key) do update
        set body = excluded.body, version = excluded.version, position = coalesce($3::double precision, draft_parts.position),
            changed_by = excluded.changed_by, changed_at = now()`,
    [kind, key, position ?? null, version, JSON.stringify(body), userId],
  );
}

/** A part; the rows of a long table only where they are asked for. */
export async function findPart(
  { kind, key }: PartRef,
  { rows: withRows = true } = {},
  on: Queryable = db(),
): Promise<VersionedPart | undefined> {
  const { rows } = await on.query<VersionedPart>(
    `select kind, key, position, version, body || coalesce(case when $3 then
              (select jsonb_build_object('rows', jsonb_agg(row order by n, i))
                 from draft_rows r cross join lateral jsonb_array_elements(r.rows) with ordinality as e (row, i)
                where p.kind = 'table' and r.key = p.key having count(*) > 0) end, '{}') as body
       from draft_parts p where kind = $1 and key = $2`,
    [kind, key, withRows],
  );
  return rows[0];
}

/** Bytes of operations that are told as they are. */
const mostTold = 64_000;

/** What pages have to hear of an edit of the draft: of rows of a long table what was done to them, else the part. */
export async function toldOf({ kind, key, edit }: DraftNotice): Promise<Pick<RemoteEdit, 'part' | 'change'>> {
  const { rows } = await db().query<PartEdited>(
    `select version, operations from draft_edits
      where id = $1 and octet_length(operations::text) <= $3 and exists (select from draft_rows where key = $2)`,
    [edit, key, mostTold],
  );
  const [change] = kind === 'table' ? rows : [];
  if (change && areRowOperations(change.operations)) return { change };
  const part = await findPart({ kind, key });
  return part ? { part } : {};
}

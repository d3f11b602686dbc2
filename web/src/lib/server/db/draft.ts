import { editPartBody, partId, type Part, type PartKind, type PartRef } from '@rigid-rule/core/document';
import type { EditsClash, EditsSaved, PartClash, SentEdit, VersionedPart } from '../../draft-protocol.ts';
import type pg from 'pg';
import { serializable } from './transaction.ts';
import { db, type Queryable } from './pool.ts';

/** The parts of the draft as one of its states has them. */
export interface DraftState {
  readonly parts: readonly VersionedPart[];
  /** For each part, by its id, which state of it this is. */
  readonly states: Readonly<Record<string, string>>;
}

/** The draft; what is as `before` has it keeps its body, which is not read again. */
export async function loadDraft(on: Queryable = db(), before?: DraftState): Promise<DraftState> {
  const { rows } = await on.query<VersionedPart & { id: string; state: string; kept: boolean }>(
    `select kind, key, position, version, id, state, kept, case when kept then null else body end as body
       from draft_parts
      cross join lateral (select kind || ':' || key as id, concat(version, ' ', changed_at) as state) told
      cross join lateral (select coalesce($1::jsonb ->> id = state, false) as kept) known
      order by kind, position, key`,
    [JSON.stringify(before?.states ?? {})],
  );
  const bodies = new Map(before?.parts.map((p) => [partId(p), p.body]));
  return {
    parts: rows.map(({ id, state: _, kept, body, ...part }) => ({ ...part, body: kept ? bodies.get(id) : body })),
    states: Object.fromEntries(rows.map(({ id, state }) => [id, state])),
  };
}

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

export async function lastDraftEdit(): Promise<{ at: Date; by: string } | undefined> {
  const { rows } = await db().query<{ at: Date; by: string }>(
    `select e.at, u.name as by from draft_edits e join users u on u.id = e.user_id order by e.id desc limit 1`,
  );
  return rows[0];
}

export async function insertParts(parts: readonly Part[], on: Queryable): Promise<void> {
  await on.query(
    `insert into draft_parts (kind, key, position, body)
     select * from jsonb_to_recordset($1::jsonb) as p (kind text, key text, position double precision, body jsonb)`,
    [JSON.stringify(parts)],
  );
}

/** The channel on which every node hears of edits; see `draft-events.ts`. */
export const draftChannel = 'draft_edit';

/** What is told of an edit: small, since a notification holds 8,000 bytes; the part is read by whoever hears of it. */
export interface DraftNotice {
  readonly kind: PartKind;
  readonly key: string;
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
    const found: Awaited<ReturnType<typeof lockPart>>[] = [];
    for (const edit of edits) found.push(await lockPart(edit, client));
    const done = await editsDone(edits, client);
    const clashes = edits.flatMap((edit, i): PartClash[] => {
      const there = found[i];
      if (done.has(edit.id ?? '')) return [];
      if ((there?.part.version ?? 0) === edit.version) return [];
      const { kind, key } = edit;
      return [{ kind, key, by: there?.by ?? null, ...(there ? { part: there.part } : {}) }];
    });
    if (clashes.length > 0) return { outcome: 'clash', clashes };
    const versions = [];
    for (const [i, edit] of edits.entries()) {
      const part = found[i]?.part;
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

async function lockPart(
  { kind, key }: PartRef,
  client: pg.PoolClient,
): Promise<{ part: VersionedPart; by: string | null } | undefined> {
  const { rows } = await client.query<VersionedPart & { by: string | null }>(
    `select p.kind, p.key, p.position, p.version, p.body, u.name as by
       from draft_parts p left join users u on u.id = p.changed_by
      where p.kind = $1 and p.key = $2 for update of p`,
    [kind, key],
  );
  if (!rows[0]) return undefined;
  const { by, ...part } = rows[0];
  return { part, by };
}

/** Returns the new version; 0 where the part was taken away. */
async function storeEdit(
  { kind, key, operations, position, id }: SentEdit,
  part: VersionedPart | undefined,
  { user, page, check }: EditContext,
  client: pg.PoolClient,
): Promise<number> {
  const { body, inverse } = editPartBody(part?.body as object | undefined, operations);
  const last = part?.version ?? 0;
  if (body === undefined) await client.query(`delete from draft_parts where kind = $1 and key = $2`, [kind, key]);
  else {
    check({ kind, key }, body);
    await client.query(
      `insert into draft_parts (kind, key, position, version, body, changed_by, changed_at)
       values ($1, $2, coalesce($3::double precision, 0), $4, $5, $6, now())
       on conflict (kind, key) do update
          set body = excluded.body, version = excluded.version, position = coalesce($3::double precision, draft_parts.position),
              changed_by = excluded.changed_by, changed_at = now()`,
      [kind, key, position ?? null, last + 1, JSON.stringify(body), user.id],
    );
  }
  await client.query(
    `insert into draft_edits (kind, key, version, operations, inverse, user_id, edit_id)
     values ($1, $2, $3, $4, $5, $6, $7)`,
    [kind, key, last + 1, JSON.stringify(operations), JSON.stringify(inverse), user.id, id ?? null],
  );
  const notice: DraftNotice = { kind, key, by: user.name, page };
  await client.query(`select pg_notify($1, $2)`, [draftChannel, JSON.stringify(notice)]);
  return body === undefined ? 0 : last + 1;
}

export async function findPart({ kind, key }: PartRef, on: Queryable = db()): Promise<VersionedPart | undefined> {
  const { rows } = await on.query<VersionedPart>(
    `select kind, key, position, version, body from draft_parts where kind = $1 and key = $2`,
    [kind, key],
  );
  return rows[0];
}

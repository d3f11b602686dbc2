import { applyPatch, type Operation, type Part, type PartKind, type PartRef } from '@rigid-rule/core';
import { serializable } from './transaction.ts';
import { db, type Queryable } from './pool.ts';

export interface DraftPart extends Part {
  readonly version: number;
}

export async function loadDraft(on: Queryable = db()): Promise<DraftPart[]> {
  const { rows } = await on.query<DraftPart>(
    `select kind, key, position, version, body from draft_parts order by kind, position, key`,
  );
  return rows;
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
     select * from jsonb_to_recordset($1::jsonb) as p (kind text, key text, position integer, body jsonb)`,
    [JSON.stringify(parts)],
  );
}

export type EditResult =
  | { readonly outcome: 'saved'; readonly version: number }
  | { readonly outcome: 'clash'; readonly part: DraftPart; readonly by: string | null }
  | { readonly outcome: 'missing' };

/**
 * Applies an edit to one part if nobody changed it since `version`.
 * @throws {PatchError} where an operation does not fit the part.
 */
export async function editPart(
  ref: PartRef,
  version: number,
  operations: readonly Operation[],
  userId: number,
  check: (kind: PartKind, body: unknown) => void,
): Promise<EditResult> {
  return serializable(async (client) => {
    const { rows } = await client.query<DraftPart & { by: string | null }>(
      `select p.kind, p.key, p.position, p.version, p.body, u.name as by
         from draft_parts p left join users u on u.id = p.changed_by
        where p.kind = $1 and p.key = $2 for update of p`,
      [ref.kind, ref.key],
    );
    const found = rows[0];
    if (!found) return { outcome: 'missing' };
    const { by, ...part } = found;
    if (part.version !== version) return { outcome: 'clash', part, by };
    const { value, inverse } = applyPatch(part.body, operations);
    check(part.kind, value);
    await client.query(
      `update draft_parts set body = $3, version = version + 1, changed_by = $4, changed_at = now()
        where kind = $1 and key = $2`,
      [ref.kind, ref.key, JSON.stringify(value), userId],
    );
    await client.query(
      `insert into draft_edits (kind, key, version, operations, inverse, user_id) values ($1, $2, $3, $4, $5, $6)`,
      [ref.kind, ref.key, version + 1, JSON.stringify(operations), JSON.stringify(inverse), userId],
    );
    return { outcome: 'saved', version: version + 1 };
  });
}

import { db } from './pool.ts';

export interface ApiToken {
  readonly id: number;
  readonly name: string;
  readonly createdBy: string;
  readonly createdAt: Date;
  readonly lastUsedAt: Date | null;
}

export async function insertToken(tokenHash: Buffer, name: string, userId: number): Promise<void> {
  await db().query(`insert into api_tokens (token_hash, name, created_by) values ($1, $2, $3)`, [
    tokenHash,
    name,
    userId,
  ]);
}

/** The token's id and name, if it is in force; notes that it was used. */
export async function useToken(tokenHash: Buffer): Promise<{ id: number; name: string } | undefined> {
  const { rows } = await db().query<{ id: number; name: string }>(
    `update api_tokens set last_used_at = now() where token_hash = $1 and revoked_at is null returning id, name`,
    [tokenHash],
  );
  return rows[0];
}

export async function listTokens(): Promise<ApiToken[]> {
  const { rows } = await db().query<ApiToken>(
    `select t.id, t.name, u.name as "createdBy", t.created_at as "createdAt", t.last_used_at as "lastUsedAt"
       from api_tokens t join users u on u.id = t.created_by where t.revoked_at is null order by t.id`,
  );
  return rows;
}

export async function revokeToken(id: number): Promise<boolean> {
  const { rowCount } = await db().query(
    `update api_tokens set revoked_at = now() where id = $1 and revoked_at is null`,
    [id],
  );
  return rowCount === 1;
}

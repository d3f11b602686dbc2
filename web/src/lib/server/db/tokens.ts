import { db } from './pool.ts';
import { together } from './together.ts';

export interface ApiToken {
  readonly id: number;
  readonly name: string;
  readonly createdBy: string;
  readonly createdAt: Date;
  readonly lastUsedAt: Date | null;
  readonly mayWrite: boolean;
  readonly expiresAt: Date;
}

/** `days`: how long it is in force. */
export async function insertToken(
  tokenHash: Buffer,
  { name, mayWrite, days }: { readonly name: string; readonly mayWrite: boolean; readonly days: number },
  userId: number,
): Promise<void> {
  await db().query(
    `insert into api_tokens (token_hash, name, created_by, may_write, expires_at)
     values ($1, $2, $3, $4, now() + make_interval(days => $5))`,
    [tokenHash, name, userId, mayWrite, days],
  );
}

export interface TokenInForce {
  readonly id: number;
  readonly name: string;
  readonly mayWrite: boolean;
}

/** Milliseconds within which a token's use is noted once: many requests would all write the same row. */
const noted = 60_000;
const lastNoted = new Map<string, number>();

/** By the hash of the token, in hexadecimal. */
const findToken = together<string, TokenInForce | undefined>(async (hashes) => {
  const { rows } = await db().query<TokenInForce & { hash: string }>({
    name: 'use-token',
    text: `select id, name, may_write as "mayWrite", encode(token_hash, 'hex') as hash from api_tokens
            where token_hash in (select decode(h, 'hex') from unnest($1::text[]) h)
              and revoked_at is null and expires_at > now()`,
    values: [[...new Set(hashes)]],
  });
  const found = new Map(rows.map(({ hash, ...token }) => [hash, token]));
  return hashes.map((hash) => found.get(hash));
});

/** The token's id and name, if it is in force; notes that it was used. */
export async function useToken(tokenHash: Buffer): Promise<TokenInForce | undefined> {
  const key = tokenHash.toString('hex');
  const token = await findToken(key);
  if (token && Date.now() - (lastNoted.get(key) ?? 0) > noted) {
    lastNoted.set(key, Date.now());
    await db().query('update api_tokens set last_used_at = now() where id = $1', [token.id]);
  }
  return token;
}

export async function listTokens(): Promise<ApiToken[]> {
  const { rows } = await db().query<ApiToken>(
    `select t.id, t.name, u.name as "createdBy", t.created_at as "createdAt", t.last_used_at as "lastUsedAt",
            t.may_write as "mayWrite", t.expires_at as "expiresAt"
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

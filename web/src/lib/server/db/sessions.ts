import type { User } from './users.ts';
import { db } from './pool.ts';

export const sessionDays = 14;

export async function insertSession(tokenHash: Buffer, userId: number): Promise<void> {
  await db().query(
    `insert into sessions (token_hash, user_id, expires_at) values ($1, $2, now() + make_interval(days => $3))`,
    [tokenHash, userId, sessionDays],
  );
  await db().query(`delete from sessions where expires_at < now()`);
}

export async function findSessionUser(tokenHash: Buffer): Promise<User | undefined> {
  const { rows } = await db().query<User>(
    `select u.id, u.email, u.name, u.role from sessions s join users u on u.id = s.user_id
      where s.token_hash = $1 and s.expires_at > now()`,
    [tokenHash],
  );
  return rows[0];
}

export async function deleteSession(tokenHash: Buffer): Promise<void> {
  await db().query(`delete from sessions where token_hash = $1`, [tokenHash]);
}

import type { User } from './users.ts';
import { db } from './pool.ts';

/** Whatever happens in it, a session ends after these many days, and unused after these many hours. */
export const sessionDays = 14;
const idleHours = 12;
/** Seconds within which its use is noted once. */
const noted = 60;

const inForce = `s.expires_at > now() and s.seen_at > now() - interval '${idleHours} hours'`;

/** Where a session was begun, as people may know it again. */
export interface Origin {
  readonly place: string;
  readonly agent: string;
}

export async function insertSession(tokenHash: Buffer, userId: number, { place, agent }: Origin): Promise<void> {
  await db().query(
    `insert into sessions (token_hash, user_id, expires_at, place, agent)
     values ($1, $2, now() + make_interval(days => $3), $4, $5)`,
    [tokenHash, userId, sessionDays, place, agent],
  );
  await db().query(`delete from sessions s where not (${inForce})`);
}

export interface SessionUser extends User {
  readonly sessionId: number;
}

export async function findSessionUser(tokenHash: Buffer): Promise<SessionUser | undefined> {
  const { rows } = await db().query<SessionUser & { stale: boolean }>({
    name: 'find-session-user',
    text: `select u.id, u.email, u.name, u.role, s.id as "sessionId", s.seen_at < now() - interval '${noted} seconds' as stale
             from sessions s join users u on u.id = s.user_id where s.token_hash = $1 and ${inForce}`,
    values: [tokenHash],
  });
  if (!rows[0]) return undefined;
  const { stale, ...user } = rows[0];
  if (stale) await db().query('update sessions set seen_at = now() where id = $1', [user.sessionId]);
  return user;
}

/** Those of some sessions that are in force. */
export async function sessionsInForce(ids: readonly number[]): Promise<ReadonlySet<number>> {
  const { rows } = await db().query<{ id: number }>(`select s.id from sessions s where s.id = any($1) and ${inForce}`, [
    ids,
  ]);
  return new Set(rows.map((r) => r.id));
}

export interface Session extends Origin {
  readonly id: number;
  readonly createdAt: Date;
  readonly seenAt: Date;
}

export async function listSessions(userId: number): Promise<Session[]> {
  const { rows } = await db().query<Session>(
    `select s.id, s.created_at as "createdAt", s.seen_at as "seenAt", s.place, s.agent
       from sessions s where s.user_id = $1 and ${inForce} order by s.seen_at desc`,
    [userId],
  );
  return rows;
}

/** Ends a session; the user whose it was. */
export async function deleteSession(tokenHash: Buffer): Promise<number | undefined> {
  const { rows } = await db().query<{ user: number }>(
    `delete from sessions where token_hash = $1 returning user_id as "user"`,
    [tokenHash],
  );
  return rows[0]?.user;
}

/** Ends all sessions of a user but one; how many. */
export async function deleteOtherSessions(userId: number, but: number): Promise<number> {
  const { rowCount } = await db().query('delete from sessions where user_id = $1 and id <> $2', [userId, but]);
  return rowCount ?? 0;
}

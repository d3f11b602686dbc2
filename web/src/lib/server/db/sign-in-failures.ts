import { underLock } from './transaction.ts';
import { db } from './pool.ts';

/** Seconds. */
const firstWait = 8;

/** How many failures of a subject go by without delay; after that the wait doubles up to `longest` seconds. */
export interface AttemptLimit {
  readonly subject: string;
  readonly free: number;
  readonly longest: number;
}

const window = `15 minutes`;

/**
 * Counts an attempt as failed before it is made, so that many at once cannot all be made: it is taken back where it was
 * right. Returns the ids of what was counted, or the seconds to wait where a limit is reached.
 */
export async function reserveAttempt(
  limits: readonly AttemptLimit[],
): Promise<{ readonly reserved: readonly number[] } | { readonly wait: number }> {
  return underLock(async (client) => {
    const subjects = limits.map((l) => l.subject);
    // In one order for everybody: attempts on the same subject come one after the other, without colliding.
    for (const subject of [...subjects].sort())
      await client.query('select pg_advisory_xact_lock(hashtextextended($1, 4650))', [subject]);
    const { rows } = await client.query<{ subject: string; n: number; ago: number }>(
      `select subject, count(*)::int as n, extract(epoch from clock_timestamp() - max(at))::float8 as ago
         from sign_in_failures where subject = any($1) and at > now() - $2::interval group by subject`,
      [subjects, window],
    );
    const waits = limits.map(({ subject, free, longest }) => {
      const found = rows.find((r) => r.subject === subject);
      return found && found.n >= free
        ? Math.min(longest, firstWait * 2 ** Math.min(found.n - free, 30)) - found.ago
        : 0;
    });
    const wait = Math.ceil(Math.max(...waits));
    if (wait > 0) return { wait };
    const inserted = await client.query<{ id: number }>(
      `insert into sign_in_failures (subject, at) select unnest($1::text[]), clock_timestamp() returning id`,
      [subjects],
    );
    await client.query(`delete from sign_in_failures where at < now() - $1::interval`, [window]);
    return { reserved: inserted.rows.map((r) => r.id) };
  });
}

export async function takeBackAttempt(reserved: readonly number[]): Promise<void> {
  await db().query(`delete from sign_in_failures where id = any($1)`, [reserved]);
}

export async function deleteFailures(subject: string): Promise<void> {
  await db().query(`delete from sign_in_failures where subject = $1`, [subject]);
}

export async function isKnownPlace(email: string, place: string): Promise<boolean> {
  const { rowCount } = await db().query(
    `select 1 from sign_in_places p join users u on u.id = p.user_id where u.email = lower($1) and p.place = $2`,
    [email, place],
  );
  return rowCount === 1;
}

export async function rememberPlace(userId: number, place: string): Promise<void> {
  await db().query(
    `insert into sign_in_places (user_id, place) values ($1, $2) on conflict (user_id, place) do update set at = now()`,
    [userId, place],
  );
}

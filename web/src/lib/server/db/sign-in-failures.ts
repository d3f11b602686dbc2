import { db } from './pool.ts';

const window = `15 minutes`;

export async function countFailures(subject: string): Promise<number> {
  const { rows } = await db().query<{ n: number }>(
    `select count(*)::int as n from sign_in_failures where subject = $1 and at > now() - $2::interval`,
    [subject, window],
  );
  return rows[0]!.n;
}

export async function insertFailures(subjects: readonly string[]): Promise<void> {
  await db().query(`insert into sign_in_failures (subject) select unnest($1::text[])`, [subjects]);
  await db().query(`delete from sign_in_failures where at < now() - $1::interval`, [window]);
}

export async function deleteFailures(subject: string): Promise<void> {
  await db().query(`delete from sign_in_failures where subject = $1`, [subject]);
}

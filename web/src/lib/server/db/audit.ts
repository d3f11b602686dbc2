import { db, type Queryable } from './pool.ts';

export async function insertAudit(
  action: string,
  userId: number | null,
  detail: Readonly<Record<string, unknown>>,
  on: Queryable = db(),
): Promise<void> {
  await on.query(`insert into audit_log (action, user_id, detail) values ($1, $2, $3)`, [action, userId, detail]);
}

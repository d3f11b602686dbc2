import type { Notification } from '@rigid-rule/core';
import type { Queryable } from './pool.ts';

/** Puts the notifications of one write into the outbox. */
export async function insertNotifications(
  type: string,
  recordId: number,
  release: number | null,
  notifications: readonly Notification[],
  on: Queryable,
): Promise<void> {
  if (notifications.length === 0) return;
  await on.query(
    `insert into outbox (type, record_id, release, rule, channel, recipient, subject, body, due)
     select $1, $2, $3, n.rule, n.channel, n."to", n.subject, n.body, n.due
       from jsonb_to_recordset($4::jsonb) as n (rule text, channel text, "to" text, subject text, body text, due date)`,
    [type, recordId, release, JSON.stringify(notifications)],
  );
}

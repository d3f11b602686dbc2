/** Keys that came with writes: what is sent again since no answer came is not done again. */
import type { Change, Message } from '@rigid-rule/core/settle';
import { db, type Queryable } from './pool.ts';

/** SHA-256 digests in hexadecimal digits. */
export interface WriteKey {
  /** Of who sent it and of the key that they gave it. */
  readonly key: string;
  /** Of what was sent. */
  readonly request: string;
}

/** What was written by a request with a key. */
export interface KnownWrite {
  readonly request: string;
  readonly type: string;
  readonly id: number;
  readonly release: number | null;
  readonly changes: readonly Change[];
  readonly messages: readonly Message[];
}

export async function writeByKey(key: string, on: Queryable): Promise<KnownWrite | undefined> {
  const { rows } = await on.query<KnownWrite>({
    name: 'write-by-key',
    text: `select encode(k.request, 'hex') as request, k.type, k.record_id as id, w.release, coalesce(w.changes, '[]') as changes,
                  k.messages
             from write_keys k
             left join lateral (select release, changes from record_writes w
                                 where w.type = k.type and w.record_id = k.record_id and w.version = k.version
                                 order by w.id limit 1) w on true
            where k.key = decode($1, 'hex')`,
    values: [key],
  });
  return rows[0];
}

/** Nobody sends again what is that old. */
export async function forgetOldWriteKeys(): Promise<void> {
  await db().query(`delete from write_keys where at < now() - interval '7 days'`);
}

import type { RecordData } from '@rigid-rule/core/document';
import { rebuildMatchKeys } from './match-keys.ts';
import type { Queryable } from './pool.ts';

/** Loads ready-made records, as the demo and tests do; no rule looks at them. */
export async function insertRecordsAsTheyAre(
  type: string,
  records: readonly { id: number; data: RecordData }[],
  on: Queryable,
): Promise<void> {
  await on.query(
    `insert into records (type, id, data)
     select $1, r.id, r.data from jsonb_to_recordset($2::jsonb) as r (id bigint, data jsonb)`,
    [type, JSON.stringify(records)],
  );
  await on.query(
    `insert into record_ids (type, last) select $1, max(id) from records where type = $1
     on conflict (type) do update set last = greatest(record_ids.last, excluded.last)`,
    [type],
  );
  await rebuildMatchKeys(type, on);
}

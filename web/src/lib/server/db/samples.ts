import type { RecordData } from '@rigid-rule/core/document';
import { db, type Queryable } from './pool.ts';

export interface Sample {
  readonly id: number;
  readonly data: RecordData;
}

export async function loadSamples(type: string): Promise<Sample[]> {
  const { rows } = await db().query<Sample>(`select id, data from sample_records where type = $1 order by id`, [type]);
  return rows;
}

export async function insertSamples(type: string, samples: readonly Sample[], on: Queryable): Promise<void> {
  await on.query(
    `insert into sample_records (type, id, data)
     select $1, s.id, s.data from jsonb_to_recordset($2::jsonb) as s (id bigint, data jsonb)`,
    [type, JSON.stringify(samples)],
  );
}

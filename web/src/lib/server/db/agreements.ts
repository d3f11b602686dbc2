import { db, type Queryable } from './pool.ts';

export interface Agreement {
  readonly recordType: string;
  readonly field: string;
  readonly from: string;
  readonly to: string;
  readonly most: number;
  readonly covers: string;
  readonly by: string;
  readonly at: Date;
}

export async function listAgreements(on: Queryable = db()): Promise<Agreement[]> {
  const { rows } = await on.query<Agreement>(
    `select a.record_type as "recordType", a.field, a.from_text as "from", a.to_text as "to", a.most, a.covers,
            u.name as by, a.agreed_at as at
       from agreements a join users u on u.id = a.agreed_by order by a.id`,
  );
  return rows;
}

export async function putAgreement(
  a: Pick<Agreement, 'recordType' | 'field' | 'from' | 'to' | 'most' | 'covers'>,
  userId: number,
  on: Queryable = db(),
): Promise<void> {
  await on.query(
    `insert into agreements (record_type, field, from_text, to_text, most, covers, agreed_by)
     values ($1, $2, $3, $4, $5, $6, $7)
     on conflict (record_type, field, from_text, to_text)
       do update set most = excluded.most, covers = excluded.covers, agreed_by = excluded.agreed_by, agreed_at = now()`,
    [a.recordType, a.field, a.from, a.to, a.most, a.covers, userId],
  );
}

export async function removeAgreement(
  a: Pick<Agreement, 'recordType' | 'field' | 'from' | 'to'>,
  on: Queryable = db(),
): Promise<void> {
  await on.query(`delete from agreements where record_type = $1 and field = $2 and from_text = $3 and to_text = $4`, [
    a.recordType,
    a.field,
    a.from,
    a.to,
  ]);
}

/** A release has taken what was agreed: what comes next is agreed anew. */
export async function clearAgreements(on: Queryable): Promise<void> {
  await on.query(`delete from agreements`);
}

/** For tests on a throw-away database. */
import { forgetIndexes } from '../db/match-keys.ts';
import { db } from '../db/pool.ts';
import { forgetReleases } from '../rulebook.ts';

/** Empties tables, those that only grow as well: no role of an installation can do that. */
export async function emptyTables(...tables: readonly string[]): Promise<void> {
  const client = await db().connect();
  try {
    await client.query('begin');
    await client.query('set local session_replication_role = replica');
    const { rows } = await client.query<{ name: string }>(
      tables.map((t) => `select '${t}' as name where exists (select from ${t})`).join(' union all '),
    );
    // A table has new files made for it even where it was empty, which takes longer than most tests.
    if (rows.length > 0) await client.query(`truncate ${rows.map((r) => r.name).join(', ')} cascade`);
    await client.query(
      `select setval(pg_get_serial_sequence(attrelid::regclass::text, attname), 1, false)
         from pg_attribute where attidentity <> '' and attrelid = any($1::regclass[])`,
      [tables],
    );
    await client.query('commit');
  } finally {
    client.release();
  }
  forgetIndexes();
  forgetReleases();
}

/** Empties all that people, rules and records leave behind. */
export const emptyInstallation = (): Promise<void> =>
  emptyTables(
    'users',
    'draft_parts',
    'draft_edits',
    'releases',
    'activations',
    'records',
    'record_ids',
    'record_writes',
    'match_keys',
    'match_indexes',
    'outbox',
    'follow_ups',
    'sample_records',
    'sample_sets',
    'agreements',
    'drift_runs',
    'live_dry_runs',
    'sign_in_failures',
    'audit_log',
  );

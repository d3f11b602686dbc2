/**
 * What the application's own role may do, where another one owns the database: read all, write what is worked with, and
 * only add to what tells of the past.
 */
import type { Queryable } from './pool.ts';

/** Tables that only grow. */
export const appendOnly = ['record_writes', 'draft_edits', 'releases', 'activations', 'audit_log'] as const;

/** Run by the owner, after its migrations. @throws where the role does not exist. */
export async function grantRights(role: string, on: Queryable): Promise<void> {
  const name = `"${role.replaceAll('"', '""')}"`;
  const grants = [
    `grant usage on schema public, graphile_worker to ${name}`,
    `grant select, insert, update, delete on all tables in schema public, graphile_worker to ${name}`,
    `grant usage, select on all sequences in schema public, graphile_worker to ${name}`,
    `grant execute on all functions in schema public, graphile_worker to ${name}`,
    `revoke update, delete, truncate on ${appendOnly.join(', ')} from ${name}`,
    `revoke insert, update, delete, truncate on schema_version from ${name}`,
  ];
  await on.query(grants.join(';\n'));
  // The queue's tables are shut to all but their owner by row level security; who may use them is said by the grants
  // alone, so that a dump without them names no role of the installation that it comes from.
  const { rows } = await on.query<{ name: string }>(
    `select format('%I.%I', n.nspname, c.relname) as name from pg_class c join pg_namespace n on n.oid = c.relnamespace
      where n.nspname = 'graphile_worker' and c.relkind = 'r' and c.relrowsecurity`,
  );
  const policies = rows.map(
    (t) =>
      `drop policy if exists application on ${t.name};
       create policy application on ${t.name} for all to public using (true) with check (true)`,
  );
  if (policies.length > 0) await on.query(policies.join(';\n'));
}

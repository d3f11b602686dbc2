#!/usr/bin/env node
/** Runs the operator's command on the database of DATABASE_URL, or on the one that `npm start` runs here. */
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from '../../scripts/lib/packages.mjs';
import { dataDir } from '../../scripts/lib/paths.mjs';
import { runningCluster } from '../../scripts/lib/postgres.mjs';

const web = fileURLToPath(new URL('..', import.meta.url));
await build();
process.env.RIGID_RULE_MIGRATIONS ??= join(web, 'migrations');
if (!process.env.DATABASE_URL) {
  const cluster = runningCluster(join(dataDir, 'postgres'));
  if (!cluster) {
    console.error('No database runs here. Set DATABASE_URL, or start the application first.');
    process.exit(2);
  }
  process.env.DATABASE_URL = cluster.url('rigid_rule');
}
const { main } = await import(join(web, 'build/admin/main.js'));
process.exitCode = await main(process.argv.slice(2));

#!/usr/bin/env node
/**
 * npm run dev: a database of its own, the core built anew at each change (threads run what is built), and the application
 * with hot reload. Its data is kept in the data folder under `dev`, apart from that of npm start.
 */
import { join } from 'node:path';
import { npmPackages } from './lib/packages.mjs';
import { dataDir, root } from './lib/paths.mjs';
import { ensureDatabase, startCluster } from './lib/postgres.mjs';
import { must, start, withCleanUp } from './lib/run.mjs';
import { step } from './lib/say.mjs';

let cluster;

async function main() {
  await npmPackages();
  await must('npm', ['run', '--silent', 'build:core'], 'The build of core failed.');
  cluster = await startCluster(join(dataDir, 'dev'));
  await ensureDatabase(cluster, 'rigid_rule');
  step('The database runs.');
  const watch = ['tsc', '-p', 'core/tsconfig.build.json', '--watch', '--preserveWatchOutput'];
  start('npx', watch, { stdio: ['ignore', 'ignore', 'inherit'] });
  const web = start('npx', ['vite', 'dev', ...process.argv.slice(2)], {
    cwd: join(root, 'web'),
    env: {
      ...process.env,
      DATABASE_URL: cluster.appUrl('rigid_rule', true),
      DATABASE_OWNER_URL: cluster.socketUrl('rigid_rule'),
      RIGID_RULE_DEMO: process.env.RIGID_RULE_DEMO ?? '1',
      RIGID_RULE_MIGRATIONS: join(root, 'web/migrations'),
      LOG_LEVEL: process.env.LOG_LEVEL ?? 'info',
    },
  });
  return new Promise((ended) => web.once('exit', (code) => ended(code ?? 1)));
}

await withCleanUp(main, async () => cluster?.stop());

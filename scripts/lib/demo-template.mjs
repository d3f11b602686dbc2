/** The demo in a database that each installation of the browser tests begins as a copy of. */
import { ensureDatabase } from './postgres.mjs';
import { end } from './run.mjs';
import { startWeb } from './web.mjs';

/** Where the tests find it. */
export const template = 'demo_template';

/** Fills it by starting the built application on it, in a cluster that is thrown away. */
export async function fillTemplate(cluster) {
  await ensureDatabase(cluster, template);
  const web = await startWeb({
    DATABASE_URL: cluster.appUrl(template),
    DATABASE_OWNER_URL: cluster.url(template),
    HOST: '127.0.0.1',
    PORT: '0',
    RIGID_RULE_DEMO: '1',
    LOG_LEVEL: 'warn',
  });
  await end(web);
}

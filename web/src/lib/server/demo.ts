import { toParts } from '@rigid-rule/core/document';
import { hashPassword } from './auth/password.ts';
import { insertParts } from './db/draft.ts';
import { insertRecordsAsTheyAre } from './db/load-records.ts';
import { insertActivation, insertRelease } from './db/releases.ts';
import { insertSampleSet, insertSamples } from './db/samples.ts';
import { serializable } from './db/transaction.ts';
import { hasUsers, insertUser } from './db/users.ts';
import { log } from './log.ts';
import { releaseOf } from './snapshot.ts';

/** Whether this is a demo installation: only then are sign-ins made and shown. */
export const isDemo = (): boolean => process.env['RIGID_RULE_DEMO'] === '1';

/** Fills an empty database of a demo installation; one that has users is left alone. */
export async function loadDemoWhenNew(): Promise<void> {
  if (!isDemo()) return;
  if (await hasUsers()) return;
  const demo = await import('@rigid-rule/demo');
  const hashed = await Promise.all(
    demo.demoUsers.map(async ({ password, ...user }) => ({ ...user, passwordHash: await hashPassword(password) })),
  );
  const [live, samples] = [demo.liveRecords(), demo.sampleRecords()];
  await serializable(async (client) => {
    if (await hasUsers(client)) return;
    const ids = new Map<string, number>();
    for (const user of hashed) ids.set(user.role, await insertUser(user, client));
    const releaser = ids.get('releaser') ?? null;
    const number = await insertRelease(await releaseOf(demo.firstRelease, demo.firstReleaseNote, releaser), client);
    await insertActivation(number, demo.firstReleaseNote, releaser, client);
    await insertParts(toParts(demo.draft), client);
    for (const [type, records] of Object.entries(live)) await insertRecordsAsTheyAre(type, records, client);
    const set = await insertSampleSet({ name: 'Sample records', source: 'demo', madeBy: null }, client);
    for (const [type, records] of Object.entries(samples)) await insertSamples(set!, type, records, client);
  });
  log.info('demo data loaded');
}

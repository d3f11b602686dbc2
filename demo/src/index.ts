/** The demo scenario: rulebook, records, samples and sign-ins, the same on every machine. */
import { population, type Population } from './records.ts';

export { draft, firstRelease, firstReleaseNote } from './rulebook.ts';
export { demoUsers, type DemoUser } from './users.ts';
export type { DemoRecord, Population } from './records.ts';

export const liveRecords = (): Population =>
  population(2026, { customers: 1200, contacts: 1800, leads: 1500, deals: 2400, visits: 900 });
/** Made-up records to try rules on; never the live ones. */
export const sampleRecords = (): Population =>
  population(7, { customers: 1200, contacts: 600, leads: 300, deals: 800, visits: 200 });

import { toParts } from '@rigid-rule/core/document';
import { insertParts } from './db/draft.ts';
import { loadDraft } from './db/draft-state.ts';
import { underLock } from './db/transaction.ts';

/** Any constant will do: of several nodes one begins the draft. */
const draftLock = 4650_0004;

/** What a new installation's rulebook says of itself, until its author says otherwise. */
const begun = {
  format: 'rigid-rule/1',
  name: 'Rulebook',
  zone: 'UTC',
  currency: 'EUR',
  recordTypes: [],
  rules: [],
} as const;

/** An installation without a draft gets an empty one, to which everything can be added. */
export const beginDraftWhenNew = (): Promise<void> =>
  underLock(async (client) => {
    await client.query('select pg_advisory_xact_lock($1)', [draftLock]);
    if ((await loadDraft(client)).parts.length === 0) await insertParts(toParts(begun), client);
  });

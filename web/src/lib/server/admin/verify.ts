/** Whether what is worked out from records and releases still agrees with them. */
import { allKeys, listAllIndexes, lockRecords, makeAnew, storedKeys, type Index } from '../db/match-keys.ts';
import { listDigests } from '../db/releases.ts';
import { sha256Of } from '../digest.ts';
import { underLock } from '../db/transaction.ts';

export interface IndexVerified extends Index {
  /** Keys that records have and the index has not, and the other way round. */
  readonly missing: number;
  readonly extra: number;
}

export interface Verified {
  readonly indexes: readonly IndexVerified[];
  readonly releases: readonly { readonly number: number; readonly holds: boolean }[];
}

/** Nobody writes records meanwhile. `repair`: indexes that differ are made anew. */
export const verify = (repair: boolean): Promise<Verified> =>
  underLock(async (client) => {
    await client.query('set local statement_timeout = 0');
    await lockRecords(client);
    const indexes: IndexVerified[] = [];
    for (const index of await listAllIndexes(client)) {
      const wanted = new Set((await allKeys(index, client)).map((k) => `${k.id} ${k.key}`));
      const stored = new Set((await storedKeys(index, client)).map((k) => `${k.id} ${k.key}`));
      const missing = [...wanted].filter((k) => !stored.has(k)).length;
      const extra = [...stored].filter((k) => !wanted.has(k)).length;
      if (repair && missing + extra > 0) await makeAnew(index, client);
      indexes.push({ ...index, missing, extra });
    }
    const releases: { number: number; holds: boolean }[] = [];
    for (const { number, snapshot, sha256 } of await listDigests(client))
      releases.push({ number, holds: (await sha256Of(snapshot)) === sha256 });
    return { indexes, releases };
  });

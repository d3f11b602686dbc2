/** Releasing and putting back: each one act, whole and atomic. */
import { diffRulebooks, searchesOf, type Rulebook } from '@rigid-rule/core';
import { insertAudit } from './db/audit.ts';
import { prepareIndexes } from './db/match-keys.ts';
import { insertActivation, insertRelease, liveReleaseNumber, loadSnapshot } from './db/releases.ts';
import { serializable } from './db/transaction.ts';
import { fingerprint as fingerprintOf, releaseOf } from './snapshot.ts';
import { readinessOf } from './readiness.ts';
import { currentDraft } from './rulebook.ts';

export type ReleaseResult = { readonly number: number } | { readonly problem: string };

/**
 * Makes the draft the live release, if it is still the draft that the releaser read and nothing in it has to be put right
 * first. `reason`: why it goes live though tests fail; kept with the note and in the audit log.
 */
export async function releaseDraft(
  given: string,
  fingerprint: string,
  userId: number,
  reason = '',
): Promise<ReleaseResult> {
  await prepareSearches((await currentDraft()).rulebook);
  return serializable(async (client): Promise<ReleaseResult> => {
    const { rulebook } = await currentDraft(client);
    if (fingerprintOf(rulebook) !== fingerprint)
      return { problem: 'The draft has changed since you read it. Read the changes again; nothing was released.' };
    const { blocking, failing } = readinessOf(rulebook);
    if (blocking.length > 0)
      return { problem: `Nothing was released. Put right first: ${blocking.map((f) => f.sentence).join(' ')}` };
    if (failing.length > 0 && reason === '')
      return {
        problem: `${failing.length === 1 ? 'A test fails' : `${failing.length} tests fail`}: write why it goes live all the same.`,
      };
    const tests = failing.map((t) => t.name);
    const note = tests.length > 0 ? `${given}\n\nTests that fail (${tests.join(', ')}): ${reason}` : given;
    const before = await liveReleaseNumber(client);
    const snapshot = before === undefined ? undefined : await loadSnapshot(before, client);
    if (snapshot && diffRulebooks(snapshot, rulebook).length === 0)
      return { problem: `The draft is the same as release ${before}. There is nothing to release.` };
    const release = releaseOf(rulebook, note, userId);
    const number = await insertRelease(release, client);
    await insertActivation(number, note, userId, client);
    await insertAudit(
      'released',
      userId,
      { release: number, sha256: release.sha256, ...(tests.length > 0 ? { failing: tests, reason } : {}) },
      client,
    );
    return { number };
  });
}

/** What the rules of a rulebook search by is there before they act. */
export const prepareSearches = (rulebook: Rulebook): Promise<void> =>
  serializable((client) => prepareIndexes(searchesOf(rulebook), client));

/** Makes an earlier release act again. The draft stays as it is. */
export async function putBack(number: number, note: string, userId: number): Promise<ReleaseResult> {
  const earlier = await loadSnapshot(number);
  if (earlier) await prepareSearches(earlier);
  return serializable(async (client): Promise<ReleaseResult> => {
    if (!(await loadSnapshot(number, client))) return { problem: `There is no release ${number}.` };
    if ((await liveReleaseNumber(client)) === number) return { problem: `Release ${number} is live already.` };
    await insertActivation(number, note, userId, client);
    await insertAudit('put back', userId, { release: number }, client);
    return { number };
  });
}

/** Releasing and putting back: each one act, whole and atomic. */
import type { Rulebook } from '@rigid-rule/core/document';
import { insertAudit } from './db/audit.ts';
import { prepareIndexes } from './db/match-keys.ts';
import { meetAllWrites } from './db/meeting-points.ts';
import { clearAgreements } from './db/agreements.ts';
import { digestOfRelease, insertActivation, insertRelease, liveReleaseNumber } from './db/releases.ts';
import { serializable } from './db/transaction.ts';
import { fingerprint as fingerprintOf, releaseOf } from './snapshot.ts';
import { LateError, readinessOf } from './readiness.ts';
import { warmNodes } from './release-warming.ts';
import { compiled, currentDraft, releaseDigest, releaseProgram } from './rulebook.ts';
import { searchesOf } from './searches.ts';

const changedMeanwhile = 'The draft has changed since you read it. Read the changes again; nothing was released.';

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
  const { rulebook: read } = await currentDraft();
  if ((await fingerprintOf(read)) !== fingerprint) return { problem: changedMeanwhile };
  const readiness = await readinessOf(read).catch((e: unknown) => {
    if (e instanceof LateError) return e;
    throw e;
  });
  if (readiness instanceof LateError) return { problem: `Nothing was released. ${readiness.message}` };
  // Made before the switch, of what may go live: the first write after it waits for nothing.
  if (readiness.blocking.length === 0) {
    await prepareSearches(read);
    await compiled(fingerprint, () => read);
    await warmNodes({ sha256: fingerprint });
  }
  return serializable(async (client): Promise<ReleaseResult> => {
    const { rulebook } = await currentDraft(client);
    if ((await fingerprintOf(rulebook)) !== fingerprint) return { problem: changedMeanwhile };
    const { blocking, failing } = readiness;
    if (blocking.length > 0)
      return { problem: `Nothing was released. Put right first: ${blocking.map((f) => f.sentence).join(' ')}` };
    if (failing.length > 0 && reason === '')
      return {
        problem: `${failing.length === 1 ? 'A test fails' : `${failing.length} tests fail`}: write why it goes live all the same.`,
      };
    const tests = failing.map((t) => t.name);
    const note = tests.length > 0 ? `${given}\n\nTests that fail (${tests.join(', ')}): ${reason}` : given;
    const before = await liveReleaseNumber(client);
    if (before !== undefined && (await digestOfRelease(before, client)) === fingerprint)
      return { problem: `The draft is the same as release ${before}. There is nothing to release.` };
    const release = await releaseOf(rulebook, note, userId);
    const number = await insertRelease(release, client);
    await meetAllWrites(client);
    await clearAgreements(client);
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
export async function prepareSearches(rulebook: Rulebook): Promise<void> {
  const searches = await searchesOf(rulebook);
  await serializable((client) => prepareIndexes(searches, client));
}

/** Makes an earlier release act again. The draft stays as it is. */
export async function putBack(number: number, note: string, userId: number): Promise<ReleaseResult> {
  const earlier = await releaseProgram(number);
  if (earlier) {
    await prepareSearches(earlier.rulebook);
    await warmNodes({ sha256: releaseDigest(number)!, release: number });
  }
  return serializable(async (client): Promise<ReleaseResult> => {
    if (!earlier) return { problem: `There is no release ${number}.` };
    if ((await liveReleaseNumber(client)) === number) return { problem: `Release ${number} is live already.` };
    await meetAllWrites(client);
    await insertActivation(number, note, userId, client);
    await insertAudit('put back', userId, { release: number }, client);
    return { number };
  });
}

/** A rulebook as the bytes that a release keeps, with their digest. */
import { onceEach } from '@rigid-rule/core/values';
import { canonicalInSteps, type Rulebook } from '@rigid-rule/core/document';
import { sha256Of } from './digest.ts';
import { inSteps } from './in-steps.ts';

export interface Snapshot {
  /** Canonical JSON. */
  readonly text: string;
  /** SHA-256 of the text, in hexadecimal: tells one state of a rulebook from another. */
  readonly sha256: string;
}

export const snapshotOf = onceEach(async (rulebook: Rulebook): Promise<Snapshot> => {
  const text = await inSteps(canonicalInSteps(rulebook));
  return { text, sha256: await sha256Of(text) };
});

export const fingerprint = async (rulebook: Rulebook): Promise<string> => (await snapshotOf(rulebook)).sha256;

/** A release of a rulebook, as it is stored. */
export async function releaseOf(rulebook: Rulebook, note: string, userId: number | null) {
  const { text, sha256: digest } = await snapshotOf(rulebook);
  return { note, snapshot: text, sha256: digest, userId };
}

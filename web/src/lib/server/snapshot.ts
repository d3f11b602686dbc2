/** A rulebook as the bytes that a release keeps, with their digest. */
import { canonicalJson, type Rulebook } from '@rigid-rule/core';
import { createHash } from 'node:crypto';

/** Tells one state of a rulebook from another: the SHA-256 of its canonical JSON, in hexadecimal. */
export const fingerprint = (rulebook: Rulebook): string => sha256(canonicalJson(rulebook));

const sha256 = (text: string): string => createHash('sha256').update(text).digest('hex');

export function releaseOf(rulebook: Rulebook, note: string, userId: number | null) {
  const snapshot = canonicalJson(rulebook);
  return { note, snapshot, sha256: sha256(snapshot), userId };
}

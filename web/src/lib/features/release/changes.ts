/** What a draft changes about what is live, as a page tells it: its beginning with the page, the rest when it is asked for. */
import { ask, whyNot } from '$lib/network.ts';
import type { RecordType } from '@rigid-rule/core/document';
import type { PartChange } from '@rigid-rule/core/refactor';

/** A change as it is told: of a rule with its record type, as it was and is. */
export type Change = PartChange & { readonly recordType?: string | undefined };

export interface ChangesPart {
  readonly changes: readonly Change[];
  /** Those of changed rules. */
  readonly recordTypes: readonly RecordType[];
}

/** Changes that come with the page, and that come at a time after that. */
export const changesAtOnce = 200;
export const changesInStep = 500;

/**
 * Changes after the first `from`. `fingerprint`: of the draft whose changes are meant.
 * @throws {Error} in words, where they cannot be had.
 */
export async function askChanges(from: number, fingerprint: string): Promise<ChangesPart> {
  const answer = await ask(`/api/release/changes?from=${from}&fingerprint=${fingerprint}`);
  if (answer.status === 409)
    throw new Error('The draft has changed since. Load the page again to read what it changes now.');
  if (!answer.ok) throw await whyNot(answer, 'The other changes could not be loaded.');
  return (await answer.json()) as ChangesPart;
}

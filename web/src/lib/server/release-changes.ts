/** What the draft changes about what is live, in words: worked out once for each state of the two, and given part by part. */
import type { Rule, Rulebook } from '@rigid-rule/core/document';
import { diffInSteps, type PartChange } from '@rigid-rule/core/refactor';
import type { Change, ChangesPart } from '../features/release/changes.ts';
import { writingOf } from '../writing.ts';
import { inSteps } from './in-steps.ts';
import { fingerprint } from './snapshot.ts';
import type { Live } from './rulebook.ts';

export interface ReleaseChanges {
  /** Of the draft, as far as it has content. */
  readonly fingerprint: string;
  readonly count: number;
  /** Changes after the first `from`, and the record types of those that are shown beside what they were. */
  part(from: number, most: number): ChangesPart;
}

let known: { readonly of: string; readonly changes: Promise<readonly PartChange[]> } | undefined;

export async function releaseChanges(rulebook: Rulebook, { release, program }: Live): Promise<ReleaseChanges> {
  const digest = await fingerprint(rulebook);
  const of = `${release} ${digest}`;
  if (known?.of !== of) {
    const changes = inSteps(diffInSteps(program.rulebook, rulebook, writingOf(rulebook)));
    known = { of, changes };
  }
  const changes = await known.changes;
  return {
    fingerprint: digest,
    count: changes.length,
    part(from, most) {
      const told = changes.slice(from, from + most).map(asTold);
      const shown = new Set(told.flatMap((c) => (c.before && c.after ? (c.recordType ?? []) : [])));
      return { changes: told, recordTypes: rulebook.recordTypes.filter((t) => shown.has(t.key)) };
    },
  };
}

/** All is told in words; a rule goes along as it was and is, which a picture may show. */
function asTold({ before, after, ...told }: PartChange): Change {
  if (told.part.kind !== 'rule') return told;
  const recordType = (after as Rule | undefined)?.recordType;
  return { ...told, recordType, ...(told.what === 'changed' ? { before, after } : {}) };
}

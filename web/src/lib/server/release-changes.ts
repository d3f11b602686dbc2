/** What one state of the rulebook changes about another, in words: worked out once for each two, and given part by part. */
import type { Rule, Rulebook } from '@rigid-rule/core/document';
import { diffInSteps, type PartChange } from '@rigid-rule/core/refactor';
import { phrasesAtOnce, type Against, type Change, type ChangesPart } from '../features/release/changes.ts';
import { writingOf } from '../writing.ts';
import { lastEditors } from './db/draft.ts';
import { liveReleaseNumber, loadRelease, readSnapshot } from './db/releases.ts';
import { inSteps } from './in-steps.ts';
import { fingerprint } from './snapshot.ts';
import type { Live } from './rulebook.ts';

export interface ReleaseChanges {
  /** SHA-256 of the state that came later. */
  readonly fingerprint: string;
  readonly count: number;
  /** Changes after the first `from`, and the record types of those that are shown beside what they were. */
  part(from: number, most: number): ChangesPart;
  /** Phrases of one change after its first `from`; undefined where there is no such change. */
  phrases(change: number, from: number, most: number): readonly string[] | undefined;
}

const kept = 2;
/** By the two that are compared. The oldest entry makes room. */
const known = new Map<string, Promise<readonly PartChange[]>>();

function changesOf(of: string, before: Rulebook, after: Rulebook): Promise<readonly PartChange[]> {
  const found = known.get(of);
  if (found) return found;
  const changes = inSteps(diffInSteps(before, after, writingOf(after)));
  known.set(of, changes);
  changes.catch(() => known.delete(of));
  if (known.size > kept) known.delete(known.keys().next().value!);
  return changes;
}

async function changesBetween(of: string, before: Rulebook, after: Rulebook, digest: string): Promise<ReleaseChanges> {
  const changes = await changesOf(of, before, after);
  return {
    fingerprint: digest,
    count: changes.length,
    part(from, most) {
      const told = changes.slice(from, from + most).map(asTold);
      const shown = new Set(told.flatMap((c) => (c.before && c.after ? (c.recordType ?? []) : [])));
      return { changes: told, recordTypes: after.recordTypes.filter((t) => shown.has(t.key)) };
    },
    phrases: (change, from, most) => changes[change]?.phrases.slice(from, from + most),
  };
}

/** A part of what the draft changes, with who edited each last. */
export async function withEditors(part: ChangesPart): Promise<ChangesPart> {
  const editors = await lastEditors(part.changes.map((c) => c.part));
  const changes = part.changes.map((c, i) => ({ ...c, ...(editors[i] ? { by: editors[i].by } : {}) }));
  return { ...part, changes };
}

/** What the draft changes about what is live. */
export async function releaseChanges(rulebook: Rulebook, { release, program }: Live): Promise<ReleaseChanges> {
  const digest = await fingerprint(rulebook);
  return changesBetween(`${release ?? 'nothing'} ${digest}`, program.rulebook, rulebook, digest);
}

/**
 * What a release changed about the one before it, or would change about the one that is live. Undefined where there is no
 * such release.
 */
export async function changesOfRelease(number: number, against: Against): Promise<ReleaseChanges | undefined> {
  const other = against === 'live' ? await liveReleaseNumber() : number - 1;
  const [after, before] = await Promise.all([loadRelease(number), other ? loadRelease(other) : undefined]);
  if (!after) return undefined;
  const of = `${before?.sha256 ?? 'nothing'} ${after.sha256}`;
  const is = await readSnapshot(after);
  return changesBetween(of, before ? await readSnapshot(before) : withoutParts(is), is, after.sha256);
}

/** What the first release was compared with. */
const withoutParts = (rulebook: Rulebook): Rulebook => ({
  ...rulebook,
  recordTypes: [],
  rules: [],
  tables: [],
  tests: [],
  samples: [],
  claims: [],
});

/**
 * All is told in words, of very many phrases the first; a rule goes along as it was and is, which a picture may show, and
 * a part of a record type with its key.
 */
function asTold({ before, after, phrases, ...told }: PartChange): Change {
  const isRule = told.part.kind === 'rule';
  const most = phrasesAtOnce(told.part.kind);
  const { recordType } = (after ?? before) as { readonly recordType?: string };
  return {
    ...told,
    // Where only one more would be left, that one too.
    phrases: phrases.length <= most + 1 ? phrases : phrases.slice(0, most),
    phraseCount: phrases.length,
    ...(told.part.kind === 'field' ? {} : { recordType }),
    ...(isRule && told.what === 'changed' ? { before: before as Rule, after: after as Rule } : {}),
  };
}

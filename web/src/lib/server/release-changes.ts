/** What one state of the rulebook changes about another, in words: worked out once for each two, and given part by part. */
import type { Rule, Rulebook } from '@rigid-rule/core/document';
import { diffInSteps, type PartChange } from '@rigid-rule/core/refactor';
import { phrasesAtOnce, type Against, type Change, type ChangesPart } from '../features/release/changes.ts';
import { writingOf } from '../writing.ts';
import { lastEditors } from './db/draft.ts';
import { digestOfRelease, liveReleaseNumber, loadRelease, readSnapshot, releaseBefore } from './db/releases.ts';
import { inSteps } from './in-steps.ts';
import { fingerprint } from './snapshot.ts';
import { releaseDigest, type Live } from './rulebook.ts';

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
const known = new Map<string, Promise<ReleaseChanges>>();

/** `of`: names the two; `both`: gives them, the earlier first, where it is not known what comes of them. */
function changesBetween(
  of: string,
  digest: string,
  both: () => Promise<readonly [before: Rulebook, after: Rulebook]>,
): Promise<ReleaseChanges> {
  const found = known.get(of);
  if (found) return found;
  const changes = both().then(async ([before, after]) =>
    given(await inSteps(diffInSteps(before, after, writingOf(after))), after, digest),
  );
  known.set(of, changes);
  changes.catch(() => known.delete(of));
  if (known.size > kept) known.delete(known.keys().next().value!);
  return changes;
}

const given = (changes: readonly PartChange[], { recordTypes }: Rulebook, digest: string): ReleaseChanges => ({
  fingerprint: digest,
  count: changes.length,
  part(from, most) {
    const told = changes.slice(from, from + most).map(asTold);
    const shown = new Set(told.flatMap((c) => (c.before && c.after ? (c.recordType ?? []) : [])));
    return { changes: told, recordTypes: recordTypes.filter((t) => shown.has(t.key)) };
  },
  phrases: (change, from, most) => changes[change]?.phrases.slice(from, from + most),
});

/** A part of what the draft changes, with who edited each last. */
export async function withEditors(part: ChangesPart): Promise<ChangesPart> {
  const editors = await lastEditors(part.changes.map((c) => c.part));
  const changes = part.changes.map((c, i) => ({ ...c, ...(editors[i] ? { by: editors[i].by } : {}) }));
  return { ...part, changes };
}

/** What the draft changes about what is live. */
export async function releaseChanges(rulebook: Rulebook, { release, program }: Live): Promise<ReleaseChanges> {
  const digest = await fingerprint(rulebook);
  const former = release === null ? 'without rules' : releaseDigest(release)!;
  return changesBetween(`${former} ${digest}`, digest, () => Promise.resolve([program.rulebook, rulebook]));
}

/**
 * What a release changed about the one that was live before it, or would change about the one that is live. Undefined where there is no
 * such release.
 */
export async function changesOfRelease(number: number, against: Against): Promise<ReleaseChanges | undefined> {
  const other = await (against === 'live' ? liveReleaseNumber() : releaseBefore(number));
  const [digest, former] = await Promise.all([digestOfRelease(number), other ? digestOfRelease(other) : undefined]);
  if (digest === undefined) return undefined;
  return changesBetween(`${former ?? 'nothing'} ${digest}`, digest, async () => {
    const after = await rulebookOf(number);
    return [former === undefined ? withoutParts(after) : await rulebookOf(other!), after];
  });
}

/** Of a release that there is. */
const rulebookOf = async (number: number): Promise<Rulebook> => readSnapshot((await loadRelease(number))!);

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

/** What one state of the rulebook changes about another, as a page tells it: its beginning with the page, the rest when asked for. */
import { deskOf, fieldsOf, mappingAddress, ruleAddress, settingsPath, testsOfType } from '$lib/addresses.ts';
import { ask, whyNot } from '$lib/network.ts';
import type { PartKind, RecordType, Rule } from '@rigid-rule/core/document';
import type { PartChange } from '@rigid-rule/core/refactor';

/** A change as it is told: with the first of its phrases, and of a changed rule how it was and is. */
export interface Change extends Omit<PartChange, 'before' | 'after'> {
  readonly phraseCount: number;
  /** Key of the record type that the part is of. */
  readonly recordType?: string | undefined;
  readonly before?: Rule;
  readonly after?: Rule;
  /** Who edited it last in the draft. */
  readonly by?: string;
}

export interface ChangesPart {
  readonly changes: readonly Change[];
  /** Those of changed rules. */
  readonly recordTypes: readonly RecordType[];
}

/** What a release is compared with: the one that was live before it, or the one that is live. */
export type Against = 'before' | 'live';
export const againsts: readonly Against[] = ['before', 'live'];

/** Which changes are meant: those of the draft of a fingerprint about what is live, or those of a release. */
export type ChangesOf = { readonly fingerprint: string } | { readonly release: number; readonly against: Against };

/** Changes that come with the page, and that come at a time after that. */
export const changesAtOnce = 200;
export const changesInStep = 500;
/** Phrases of a change that come with it: of a test what it is about, since rules and tables are what acts. */
export const phrasesAtOnce = (kind: PartKind): number => (kind === 'test' ? 2 : 8);
/** Phrases that come at a time after that. */
export const phrasesInStep = 200;

/** @throws {Error} in words, where it cannot be had. */
async function askFor(of: ChangesOf, asked: Readonly<Record<string, number>>): Promise<Response> {
  const query = new URLSearchParams(
    Object.entries({ ...of, ...asked }).map(([name, value]): [string, string] => [name, String(value)]),
  );
  const answer = await ask(`/api/release/changes?${query.toString()}`);
  if (answer.status === 409)
    throw new Error('The draft has changed since. Load the page again to read what it changes now.');
  if (!answer.ok) throw await whyNot(answer, 'The other changes could not be loaded.');
  return answer;
}

/**
 * Changes after the first `from`.
 * @throws {Error} in words, where they cannot be had.
 */
export const askChanges = async (of: ChangesOf, from: number): Promise<ChangesPart> =>
  (await (await askFor(of, { from })).json()) as ChangesPart;

/**
 * Phrases of a change after its first `from`. `change`: counted from none.
 * @throws {Error} in words, where they cannot be had.
 */
export const askPhrases = async (of: ChangesOf, change: number, from: number): Promise<readonly string[]> =>
  (await (await askFor(of, { change, from })).json()) as readonly string[];

/** Where a part of the draft is seen; undefined where it is seen on no page of its own. */
const pages: { readonly [Kind in PartKind]: (change: Change) => string | undefined } = {
  settings: () => settingsPath,
  'record type': ({ part }) => fieldsOf(part.key),
  field: ({ part }) => fieldsOf(part.key.split('.')[0]!, { field: part.key.split('.')[1]! }),
  rule: ({ part, recordType }) => (recordType === undefined ? undefined : ruleAddress(recordType, part.key)),
  table: ({ part }) => mappingAddress(part.key),
  test: ({ part, recordType }) => (recordType === undefined ? undefined : deskOf(recordType, { test: part.key })),
  claim: ({ recordType }) => (recordType === undefined ? undefined : testsOfType(recordType)),
  sample: () => undefined,
};

export const pageOf = (change: Change): string | undefined =>
  change.what === 'removed' ? undefined : pages[change.part.kind](change);

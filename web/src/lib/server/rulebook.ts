/** The rulebooks that this node works with: the draft as it stands, and releases compiled once. */
import { compileInSteps, compileProgram, type Program } from '@rigid-rule/core/compile';
import { fromParts, type RecordType, type Rulebook } from '@rigid-rule/core/document';
import { ChangeCounter } from '@rigid-rule/core/refactor';
import { error } from '@sveltejs/kit';
import { draftStamp } from './db/draft.ts';
import { loadDraft, type DraftState } from './db/draft-state.ts';
import { digestOfRelease, liveReleaseNumber, loadRelease, readSnapshot } from './db/releases.ts';
import { db, type Queryable } from './db/pool.ts';
import { writingOf } from '../writing.ts';
import { inSteps } from './in-steps.ts';
import { phoneNumber } from '@rigid-rule/core/host/phone-numbers';
import { zoneOffset } from '@rigid-rule/core/host/zones';
import { createPatterns } from '@rigid-rule/core/host/patterns';

/** On the server all that formulas may ask for is at hand. */
export const serverHost = { pattern: createPatterns(), phone: phoneNumber, zoneOffset, writing: writingOf };

const kept = 8;
/** Compiled, by the digest of what was compiled: the same bytes act the same. The oldest entry makes room. */
const programs = new Map<string, Promise<Program>>();
/** Digests of releases, which never change. */
const digests = new Map<number, string>();

/** For a database that begins anew under a process that goes on. */
export function forgetReleases(): void {
  digests.clear();
  draft = undefined;
}

/** A rulebook compiled and ready to run; `sha256`: of its canonical JSON. */
export function compiled(sha256: string, load: () => Rulebook | Promise<Rulebook>): Promise<Program> {
  const known = programs.get(sha256);
  if (known) return known;
  const program = Promise.resolve()
    .then(load)
    .then((rulebook) => inSteps(compileInSteps(rulebook, serverHost)));
  programs.set(sha256, program);
  program.catch(() => programs.delete(sha256));
  if (programs.size > kept) programs.delete(programs.keys().next().value!);
  return program;
}

export async function releaseProgram(number: number, on: Queryable = db()): Promise<Program | undefined> {
  const digest = digests.get(number) ?? (await digestOfRelease(number, on));
  if (digest === undefined) return undefined;
  digests.set(number, digest);
  const known = programs.get(digest);
  if (known) return known;
  // Read here and now: the connection is the caller's for no longer.
  const stored = await loadRelease(number, on);
  return stored && compiled(digest, () => readSnapshot(stored));
}

/** SHA-256 of a release that has been looked at. */
export const releaseDigest = (number: number): string | undefined => digests.get(number);

export interface Live {
  /** null before the first release. */
  readonly release: number | null;
  readonly program: Program;
}

/** What acts on records now. Before the first release: the draft's record types without any rule. */
export const liveRelease = async (on: Queryable = db()): Promise<Live> =>
  liveAs((await liveReleaseNumber(on)) ?? null, on);

/** What acts while this release is live. */
export async function liveAs(release: number | null, on: Queryable = db()): Promise<Live> {
  const program = release === null ? undefined : await releaseProgram(release, on);
  if (program) return { release, program };
  const { rulebook } = await currentDraft(on);
  return { release: null, program: compileProgram({ ...rulebook, rules: [] }, serverHost) };
}

export interface CurrentDraft extends DraftState {
  readonly stamp: string;
  readonly rulebook: Rulebook;
}

let draft: CurrentDraft | undefined;

/** The draft as it stands: only what is another than the last time is read anew, the rest keeps its identity. */
export async function currentDraft(on: Queryable = db()): Promise<CurrentDraft> {
  const stamp = await draftStamp(on);
  const before = draft;
  if (before?.stamp === stamp) return before;
  const state = await loadDraft(on, before);
  draft = { ...state, stamp, rulebook: fromParts(state.parts, before?.rulebook) };
  return draft;
}

let counting: { readonly of: Program; readonly counter: ChangeCounter } | undefined;
let counted: { readonly of: string; readonly changes: Promise<number> } | undefined;

/** How many things the draft changes about what is live; before the first release its rules. */
export function draftChanges({ stamp, rulebook }: CurrentDraft, { release, program }: Live): Promise<number> {
  if (release === null) return Promise.resolve(rulebook.rules.length);
  const of = `${release} ${stamp}`;
  if (counted?.of === of) return counted.changes;
  if (counting?.of !== program) counting = { of: program, counter: new ChangeCounter(program.rulebook) };
  const changes = inSteps(counting.counter.countInSteps(rulebook));
  counted = { of, changes };
  return changes;
}

/** @throws 404 in words. */
export function requireType(rulebook: Rulebook, key: string): RecordType {
  const type = rulebook.recordTypes.find((t) => t.key === key);
  if (!type) error(404, `There is no record type ${key}.`);
  return type;
}

/** The rulebooks that this node works with: the draft as it stands, and releases compiled once. */
import { compileProgram, fromParts, type Program, type RecordType, type Rulebook } from '@rigid-rule/core';
import { error } from '@sveltejs/kit';
import { loadDraft } from './db/draft.ts';
import { liveReleaseNumber, loadSnapshot } from './db/releases.ts';
import { db, type Queryable } from './db/pool.ts';
import { phoneNumber } from '@rigid-rule/phone-numbers';
import { zoneOffset } from '@rigid-rule/zones';
import { createPatterns } from '@rigid-rule/patterns';

/** On the server all that formulas may ask for is at hand. */
export const serverHost = { pattern: createPatterns(), phone: phoneNumber, zoneOffset };

const kept = 8;
/** Releases are immutable, so a compiled one never goes stale; the oldest entry makes room. */
const programs = new Map<number, Program>();

export async function releaseProgram(number: number, on: Queryable = db()): Promise<Program | undefined> {
  const known = programs.get(number);
  if (known) return known;
  const snapshot = await loadSnapshot(number, on);
  if (!snapshot) return undefined;
  const program = compileProgram(snapshot, serverHost);
  programs.set(number, program);
  if (programs.size > kept) programs.delete(programs.keys().next().value!);
  return program;
}

export interface Live {
  /** null before the first release. */
  readonly release: number | null;
  readonly program: Program;
}

/** What acts on records now. Before the first release: the draft's record types without any rule. */
export async function live(on: Queryable = db()): Promise<Live> {
  const release = await liveReleaseNumber(on);
  const program = release === undefined ? undefined : await releaseProgram(release, on);
  if (release !== undefined && program) return { release, program };
  const { rulebook } = await currentDraft(on);
  return { release: null, program: compileProgram({ ...rulebook, rules: [] }, serverHost) };
}

export async function currentDraft(on: Queryable = db()) {
  const parts = await loadDraft(on);
  return { parts, rulebook: fromParts(parts) };
}

/** @throws 404 in words. */
export function requireType(rulebook: Rulebook, key: string): RecordType {
  const type = rulebook.recordTypes.find((t) => t.key === key);
  if (!type) error(404, `There is no record type ${key}.`);
  return type;
}

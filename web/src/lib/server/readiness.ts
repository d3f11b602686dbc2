/** Whether a draft may go live, worked out on threads beside the event loop, with an end in time and in memory. */
import type { Rulebook } from '@rigid-rule/core/document';
import type { Readiness } from '@rigid-rule/core/rule-tests';
import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import { Piscina } from 'piscina';
import { snapshotOf } from './snapshot.ts';

/** Milliseconds. */
const usualDeadline = 20_000;
const megabytes = 512;
/** Milliseconds after which a thread that has nothing to do ends. */
const idle = 2_000;
/** Drafts whose readiness is kept: it is looked at again and again while nothing changes. */
const kept = 4;

const known = new Map<string, Promise<Readiness>>();
let pool: Piscina | undefined;

/** The draft takes too long to look through; nobody can say whether it may go live. */
export class LateError extends Error {
  constructor() {
    super('Looking through this draft and running its tests takes too long. Find the formula that takes so much work.');
  }
}

function threads(): Piscina {
  const found = ['workers', 'web/workers'].map((d) => resolve(d, 'readiness.mjs')).find(existsSync);
  if (!found) throw new Error('web/workers/readiness.mjs was not found.');
  return new Piscina({
    filename: found,
    minThreads: 0,
    maxThreads: 1,
    idleTimeout: idle,
    resourceLimits: { maxOldGenerationSizeMb: megabytes },
  });
}

/** @throws {LateError} */
export async function readinessOf(rulebook: Rulebook): Promise<Readiness> {
  const { text, sha256: print } = await snapshotOf(rulebook);
  const before = known.get(print);
  if (before) return before;
  const found = workOut(text);
  known.set(print, found);
  // What failed for want of time may do better on a quieter machine.
  found.catch(() => known.delete(print));
  if (known.size > kept) known.delete(known.keys().next().value!);
  return found;
}

/** `rulebook`: as JSON. */
async function workOut(rulebook: string): Promise<Readiness> {
  pool ??= threads();
  const deadline = Number(process.env['RELEASE_CHECK_TIMEOUT'] ?? usualDeadline);
  try {
    return (await pool.run(rulebook, { signal: AbortSignal.timeout(deadline) })) as Readiness;
  } catch (e) {
    if (e instanceof Error && (e.name === 'AbortError' || e.message.includes('memory'))) throw new LateError();
    throw e;
  }
}

/** Ends the threads. */
export async function closeThreads(): Promise<void> {
  const open = pool;
  pool = undefined;
  await open?.destroy();
}

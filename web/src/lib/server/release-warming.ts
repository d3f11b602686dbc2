/**
 * Before a rulebook goes live every node compiles it, so that the first write after the switch waits for nothing on any of
 * them. The node that releases says what comes, the others compile and say that they have; one that is slow or gone is
 * not waited for long, and compiles when it needs it.
 */
import { object, string, number, type InferType } from 'yup';
import { log } from './log.ts';
import { listening, listeningNodes, notify, onNotice, ownListener } from './db/notices.ts';
import { compiled, currentDraft, releaseProgram } from './rulebook.ts';
import { fingerprint } from './snapshot.ts';

/** What comes: a release that is put back, or the draft as it stands. */
const coming = object({ sha256: string().required(), release: number().integer() });
export type ComingRelease = InferType<typeof coming>;
const ready = object({ sha256: string().required(), node: number().integer().required() });

/** Milliseconds for which other nodes are waited for. */
const patience = 10_000;

async function compileComing({ sha256, release }: ComingRelease): Promise<void> {
  if (release !== undefined) return void (await releaseProgram(release));
  const { rulebook } = await currentDraft();
  // Another draft by now: nothing to prepare, and nobody is going to release it as it was.
  if ((await fingerprint(rulebook)) === sha256) await compiled(sha256, () => rulebook);
}

async function prepare(notice: unknown): Promise<void> {
  const next = coming.validateSync(notice);
  const node = await ownListener();
  try {
    await compileComing(next);
  } finally {
    // One that cannot be compiled here is not waited for.
    if (node !== undefined) await notify('release_ready', { sha256: next.sha256, node });
  }
}

/** Compiles what other nodes are about to release, from now on. */
export async function hearComingReleases(): Promise<void> {
  onNotice('release_coming', { heard: prepare });
  onNotice('release_ready', { heard: told });
  await listening();
}

/** Those who wait until nodes are ready, by what they wait for. */
const waiting = new Map<string, Set<(node: number) => void>>();

function told(notice: unknown): void {
  const { sha256, node } = ready.validateSync(notice);
  for (const hear of waiting.get(sha256) ?? []) hear(node);
}

/**
 * Has every node compile what is about to go live, this one included; resolves with how many did not say so in time.
 * `within`: milliseconds.
 */
export async function warmNodes(next: ComingRelease, within = patience): Promise<number> {
  // Without a connection that hears of the others there is nothing to wait for.
  if (!(await listening())) return 0;
  const missing = new Set(await listeningNodes());
  const own = waiting.get(next.sha256) ?? new Set();
  waiting.set(next.sha256, own);
  let hear: ((node: number) => void) | undefined;
  const done = new Promise<void>((resolve) => {
    hear = (node) => {
      missing.delete(node);
      if (missing.size === 0) resolve();
    };
    own.add(hear);
  });
  let late: ReturnType<typeof setTimeout> | undefined;
  try {
    if (missing.size === 0) return 0;
    await notify('release_coming', next);
    await Promise.race([done, new Promise<void>((resolve) => (late = setTimeout(resolve, within)))]);
  } finally {
    clearTimeout(late);
    own.delete(hear!);
    if (own.size === 0) waiting.delete(next.sha256);
  }
  if (missing.size > 0) log.warn({ nodes: missing.size }, 'nodes did not prepare a coming release in time');
  return missing.size;
}

/** What is still to be carried through to a record because another one changed, and what could not be. */
import { countFollowUps, listFailed, listWaiting } from './db/follow-ups.ts';
import { db } from './db/pool.ts';
import { dependantIds } from './entry-points/settling.ts';

/** The queue is empty but for moments; what is beyond these is told once they are done. */
const jobsLookedAt = 20;
const failedListed = 200;

export interface FollowUps {
  /** A job that concerns the record has not run yet. */
  readonly waiting: boolean;
  readonly failed: readonly { readonly job: number; readonly text: string }[];
}

export async function followUpsOf(recordType: string, id: number): Promise<FollowUps> {
  const [jobs, failed] = await Promise.all([listWaiting(jobsLookedAt), listFailed(failedListed)]);
  let waiting = false;
  for (const { work } of jobs) {
    waiting ||= work.childWrites.some((w) => w.recordType === recordType && w.id === String(id));
    for (const d of work.dependants)
      if (!waiting && d.recordType === recordType)
        waiting = (work.ids ?? (await dependantIds(d, work.after, db()))).includes(String(id));
  }
  return {
    waiting,
    failed: failed.flatMap((job) =>
      job.failures.flatMap((f) => (f.recordType === recordType && f.id === id ? [{ job: job.id, text: f.text }] : [])),
    ),
  };
}

/** Everything that could not be carried through, newest first, and how much waits. */
export async function failedFollowUps() {
  const [counts, jobs] = await Promise.all([countFollowUps(), listFailed(failedListed)]);
  return { counts, jobs };
}

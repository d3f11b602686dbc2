/**
 * The queue: graphile-worker on the application's own database, in every web process unless told otherwise and in any
 * number of processes beside them. A job that throws is tried again with growing delay; after the last time its work is
 * set aside with the reason, and holds up no other.
 */
import { run, runOnce, type Runner, type RunnerOptions, type Task, type WorkerEvents } from 'graphile-worker';
import { EventEmitter } from 'node:events';
import { randomUUID } from 'node:crypto';
import { giveBackLostJobs, leaveQueue, seeNode } from '../db/queue-nodes.ts';
import { askForForgottenJobs, finishFollowUp, jobsAskedFor } from '../db/follow-ups.ts';
import { endDrift } from '../db/drift.ts';
import { endLiveRun } from '../db/live-dry-runs.ts';
import { db } from '../db/pool.ts';
import { unavailabilityOf } from '../db/unavailable.ts';
import { forgetOldWriteKeys } from '../db/write-keys.ts';
import { log } from '../log.ts';
import { lookForDrift } from './drift.ts';
import { follow } from './follow.ts';
import { tryHeap } from './live-dry-run.ts';
import { queueLogger as logger } from './queue-tables.ts';

const followTask: Task = async (payload, { job }) => {
  const { id } = payload as { id: number };
  try {
    await follow(id);
    // What its writes left to be done in turn is in the queue before it is off it.
    await jobsAskedFor();
  } catch (e) {
    const away = unavailabilityOf(e);
    if (!away) log.error({ err: e, job: job.id }, 'a follow-up failed');
    if (job.attempts < job.max_attempts) throw e;
    const text = away ? away.message : 'Working this out failed on our side; it is in the log of the server.';
    await finishFollowUp(id, [{ text }], db());
  }
};

/** A task that looks at live records heap by heap; what cannot be looked at ends it. */
const looking =
  (name: string, look: (id: number) => Promise<void>, end: (id: number, state: 'failed') => Promise<void>): Task =>
  async (payload, { job }) => {
    const { id } = payload as { id: number };
    try {
      await look(id);
    } catch (e) {
      if (!unavailabilityOf(e)) log.error({ err: e, job: job.id }, `${name} failed`);
      if (job.attempts < job.max_attempts) throw e;
      await end(id, 'failed');
    }
  };

/** Milliseconds within which what became of several jobs is told in one statement. */
const told = 5;

const settings = (): RunnerOptions => ({
  pgPool: db(),
  taskList: {
    follow: followTask,
    drift: looking('a look for drift', lookForDrift, endDrift),
    'live dry run': looking('a dry run on live records', tryHeap, endLiveRun),
  },
  logger,
  noHandleSignals: true,
  // By itself the library tells the database what became of a job without waiting for it, also when it stops.
  preset: { worker: { completeJobBatchDelay: told, failJobBatchDelay: told } },
});

/** Jobs of one process at once: requests come first. */
const concurrency = 1;
/** Milliseconds between two signs of life. */
const beat = 10_000;
/** Seconds without one after which the jobs that a process had taken are given back, and what it had not asked for is. */
const lost = 35;

interface Node {
  readonly id: string;
  readonly runner: Runner;
  readonly beating: NodeJS.Timeout;
}
let node: Node | undefined;

export async function startQueue(): Promise<void> {
  await askForForgottenJobs(0);
  const id = randomUUID();
  const taking = new Set<string>();
  const events = new EventEmitter() as WorkerEvents;
  events.on('pool:create', ({ workerPool }) => taking.add(workerPool.id));
  events.on('worker:create', ({ worker }) => taking.add(worker.workerId));
  const runner = await run({
    ...settings(),
    events,
    concurrency,
    // Should a notification be lost with its connection, the queue is looked at all the same.
    pollInterval: 2000,
  });
  runner.promise.catch((err: unknown) => log.error({ err }, 'the queue stopped'));
  const signOfLife = (): Promise<void> =>
    seeNode(id, [...taking])
      .then(() => giveBackLostJobs(lost))
      .then(() => askForForgottenJobs(lost))
      .then(forgetOldWriteKeys)
      .catch((err: unknown) => log.warn({ err }, 'the queue could not be looked after'));
  await signOfLife();
  node = { id, runner, beating: setInterval(() => void signOfLife(), beat).unref() };
}

/** Jobs that run end; the others wait for whoever comes next. */
export async function stopQueue(): Promise<void> {
  if (!node) return;
  const { id, runner, beating } = node;
  node = undefined;
  clearInterval(beating);
  await runner.stop();
  await leaveQueue(id).catch(() => undefined);
}

/** Works off all that waits now and is due, in this process; for tests, and for whoever waits for an answer. */
export async function workOffQueue(): Promise<void> {
  await jobsAskedFor();
  await runOnce(settings());
}

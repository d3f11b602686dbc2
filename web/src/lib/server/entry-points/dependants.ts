/**
 * Settles the records that read another one through a lookup, and values that rules give to child records. A dependant
 * never vetoes its cause: what cannot be saved is listed with the job.
 */
import type { Dependants } from '@rigid-rule/core';
import {
  finishDependantJob,
  listDependantJobs,
  lockDependantJob,
  type DependantFailure,
  type DependantJob,
  type DependantWork,
} from '../db/dependant-jobs.ts';
import { db, type Queryable } from '../db/pool.ts';
import { unavailabilityOf } from '../db/unavailable.ts';
import { serializable } from '../db/transaction.ts';
import { log } from '../log.ts';
import { dependantIds, writeIn, type WriteRequest } from './write-in.ts';

const jobsAtOnce = 20;
/** Jobs that led to one another beyond this: the records change each other without end. */
const deepestJobs = 8;
let running: Promise<void> | undefined;
let again = false;

/** Works the queue off in the background; a call while it runs makes it look once more. */
export function runDependants(): Promise<void> {
  again = true;
  running ??= untilQuiet()
    .catch((e: unknown) => log.error({ err: e }, 'dependants could not be settled'))
    .finally(() => (running = undefined));
  return running;
}

async function untilQuiet(): Promise<void> {
  while (again) {
    again = false;
    await work();
  }
}

async function work(): Promise<void> {
  for (;;) {
    const jobs = await listDependantJobs(jobsAtOnce);
    if (jobs.length === 0) return;
    for (const job of jobs) await runJob(job).catch((e: unknown) => setAside(job, e));
  }
}

/** A job that throws holds up no other: it is listed with its error. While the database is away all wait. */
async function setAside({ id }: DependantJob, e: unknown): Promise<void> {
  if (unavailabilityOf(e)) throw e;
  log.error({ err: e, job: id }, 'a dependants job failed');
  const text = 'Working this out failed on our side; it is in the log of the server.';
  await finishDependantJob(id, [{ text }], db());
}

/** A job and its done mark are one transaction: run twice, it changes nothing more. */
async function runJob({ id, work: { dependants, childWrites, after, depth } }: DependantJob): Promise<void> {
  await serializable(async (client) => {
    if (!(await lockDependantJob(id, client))) return;
    const failures: DependantFailure[] = [];
    if (depth > deepestJobs) {
      failures.push({ text: `After ${deepestJobs} rounds these records still change each other.` });
      return finishDependantJob(id, failures, client);
    }
    const requests = [...(await requestsOf(dependants, after, client)), ...childWrites.map(childRequest)];
    for (const request of requests) {
      const result = await writeIn(client, { ...request, depth });
      if (result.outcome !== 'saved') {
        const said = 'settlement' in result ? result.settlement.messages.map((m) => m.text).join(' ') : '';
        failures.push({
          recordType: request.type,
          id: request.id!,
          text: said || `It could not be written: ${result.outcome}.`,
        });
      }
    }
    await finishDependantJob(id, failures, client);
  });
}

const childRequest = ({ recordType, id, values }: DependantWork['childWrites'][number]): WriteRequest => ({
  type: recordType,
  id: Number(id),
  sent: Object.fromEntries(values.map((w) => [w.field, w.value])),
  given: Object.fromEntries(values.map(({ field, rule, winner }) => [field, { rule, winner }])),
  typed: [],
  entryPoint: 'rule',
  by: null,
});

async function requestsOf(
  dependants: readonly Dependants[],
  after: DependantWork['after'],
  client: Queryable,
): Promise<WriteRequest[]> {
  const requests: WriteRequest[] = [];
  for (const d of dependants) {
    const { before, recordType, id } = d.changed;
    for (const dependant of await dependantIds(d, after, client))
      requests.push({
        type: d.recordType,
        id: Number(dependant),
        sent: {},
        typed: [],
        entryPoint: 'rule',
        by: null,
        relatedChanges: d.paths,
        ...(before ? { formerly: [{ recordType, id, data: before }] } : {}),
      });
  }
  return requests;
}

/**
 * Settles the records that read another one through a lookup, and values that rules give to child records. A dependant
 * never vetoes its cause: what cannot be saved is listed with the work. Each record is a write of its own; run twice,
 * the work changes nothing more.
 */
import {
  findFollowUp,
  finishFollowUp,
  splitFollowUp,
  type DependantFailure,
  type DependantWork,
} from '../db/follow-ups.ts';
import { db } from '../db/pool.ts';
import { quietMoment } from '../requests-first.ts';
import { dependantIds, type WriteRequest, type WriteResult } from '../entry-points/settling.ts';
import { writeRecord } from '../entry-points/write.ts';

/** Records that one job settles: what is more is split, so that others have their turn in between. */
const chunk = 50;
/** Records settled at the same time: what they ask of the database is asked together, and most of its connections are free. */
const atOnce = 4;
/** Milliseconds since its cause was saved that a job lets requests go first. */
const patience = 5000;
/** Jobs that led to one another beyond this: the records change each other without end. */
const deepest = 8;

export async function follow(id: number): Promise<void> {
  const found = await findFollowUp(id, db());
  if (!found) return;
  const { work, waited } = found;
  await quietMoment(patience - waited);
  if (work.depth > deepest) {
    const text = `After ${deepest} rounds these records still change each other.`;
    return finishFollowUp(id, [{ text }], db());
  }
  const ids = await Promise.all(work.dependants.map(async (d) => work.ids ?? dependantIds(d, work.after, db())));
  const count = ids.reduce((n, own) => n + own.length, work.childWrites.length);
  if (count > chunk) return splitFollowUp(id, partsOf(work, ids), db());
  const failures: DependantFailure[] = [];
  for (const requests of chunks([...requestsOf(work, ids), ...work.childWrites.map(childRequest)], atOnce)) {
    const writes = requests.map((request) => writeRecord({ ...request, depth: work.depth }));
    // Where one cannot be tried now, the others end before the job does.
    await Promise.allSettled(writes);
    const results = await Promise.all(writes);
    failures.push(...results.flatMap((result, i) => failureOf(requests[i]!, result) ?? []));
  }
  await finishFollowUp(id, failures, db());
}

function failureOf({ type, id }: WriteRequest, result: WriteResult): DependantFailure | undefined {
  if (result.outcome === 'saved') return undefined;
  const said = 'settlement' in result ? result.settlement.messages.map((m) => m.text).join(' ') : '';
  return { recordType: type, id: id!, text: said || `It could not be written: ${result.outcome}.` };
}

const childRequest = ({ recordType, id, values }: DependantWork['childWrites'][number]): WriteRequest => ({
  type: recordType,
  id: Number(id),
  sent: Object.fromEntries(values.map((w) => [w.field, w.value])),
  writtenBy: Object.fromEntries(values.map(({ field, rule, winner }) => [field, { rule, winner }])),
  typed: [],
  entryPoint: 'rule',
  by: null,
});

function requestsOf({ dependants }: DependantWork, ids: readonly (readonly string[])[]): WriteRequest[] {
  return dependants.flatMap((d, i) => {
    const { before, recordType, id } = d.changed;
    return ids[i]!.map((dependant): WriteRequest => ({
      type: d.recordType,
      id: Number(dependant),
      sent: {},
      typed: [],
      entryPoint: 'rule',
      by: null,
      relatedChanges: d.paths,
      ...(before ? { formerly: [{ recordType, id, data: before }] } : {}),
    }));
  });
}

/** The same work, a job's share at a time. */
function partsOf(work: DependantWork, ids: readonly (readonly string[])[]): DependantWork[] {
  const { after, depth } = work;
  return [
    ...work.dependants.flatMap((d, i) =>
      chunks(ids[i]!).map((own): DependantWork => ({ dependants: [d], ids: own, childWrites: [], after, depth })),
    ),
    ...chunks(work.childWrites).map((childWrites): DependantWork => ({ dependants: [], childWrites, after, depth })),
  ];
}

const chunks = <T>(list: readonly T[], size = chunk): T[][] =>
  Array.from({ length: Math.ceil(list.length / size) }, (_, i) => list.slice(i * size, (i + 1) * size));

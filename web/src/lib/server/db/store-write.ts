/** Stores settled writes whole, in one call that first makes sure that what they were settled on still stands. */
import type { TraceEntry } from '@rigid-rule/core/compile';
import type { RecordData } from '@rigid-rule/core/document';
import type { Change, Message, Notification } from '@rigid-rule/core/settle';
import { askForJobs, type DependantWork } from './follow-ups.ts';
import type { MatchKey } from './match-keys.ts';
import {
  apart,
  everyonePoint,
  keyPoint,
  recordPoint,
  releasePoint,
  requestPoint,
  type MeetingPoints,
} from './meeting-points.ts';
import { db, type Queryable } from './pool.ts';
import type { WriteKey } from './write-keys.ts';
import type { ReadsOf } from './reads.ts';
import { together } from './together.ts';

/** A record as the write leaves it. `version`: that which it had; 0 for a new one. */
export interface RecordToStore {
  readonly type: string;
  readonly id: number;
  readonly version: number;
  readonly data: RecordData;
  readonly held: readonly string[];
}

/** One entry of the history. */
export interface WriteToStore {
  readonly type: string;
  readonly record_id: number;
  readonly version: number;
  readonly user_id: number | null;
  readonly token_id: number | null;
  readonly entry_point: string;
  readonly moment: string;
  readonly changes: readonly Change[];
  readonly trace: readonly TraceEntry[];
}

export interface Work {
  readonly release: number | null;
  readonly reads: ReadsOf;
  readonly records: readonly RecordToStore[];
  /** Names of the indexes of the types concerned, that the keys were worked out for; in order. */
  readonly indexes: readonly (readonly [type: string, field: string, mode: string])[];
  readonly gone: readonly MatchKey[];
  readonly come: readonly MatchKey[];
  readonly writes: readonly WriteToStore[];
  readonly notifications: readonly (Notification & { readonly type: string; readonly record_id: number })[];
  readonly follow?: DependantWork;
  /** What its sender may send again, and the write that it is. */
  readonly key?: WriteKey & {
    readonly type: string;
    readonly record_id: number;
    readonly version: number;
    readonly messages: readonly Message[];
  };
}

/** What a write was settled on stands no longer, or it collided: it has to be settled again. */
export class OvertakenError extends Error {
  readonly points: MeetingPoints;
  constructor(points: MeetingPoints, cause?: unknown) {
    super('What this write was settled on has changed meanwhile.', { cause });
    this.points = points;
  }
}

/** Raised by `put_writes`; serialization_failure; deadlock_detected. */
const overtaken = new Set(['RR001', '40001', '40P01']);
const isOvertaken = (e: unknown): boolean =>
  e instanceof Error && 'code' in e && overtaken.has(String((e as { code: unknown }).code));

export function pointsOf({
  reads,
  records,
  gone,
  come,
  key,
}: Pick<Work, 'reads' | 'records' | 'gone' | 'come' | 'key'>): MeetingPoints {
  const alone = new Set(records.map((r) => recordPoint(r.type, r.id)));
  for (const k of [...gone, ...come]) alone.add(keyPoint(k.type, k.field, k.mode, k.key));
  if (key) alone.add(requestPoint(key.key));
  const shared = new Set([releasePoint]);
  for (const { type, id } of reads.records.values()) shared.add(recordPoint(type, id));
  for (const { type, field, mode, key } of reads.matches.values()) shared.add(keyPoint(type, field, mode, key));
  return { shared, alone };
}

const asJson = ({ release, reads: { records, matches } }: Pick<Work, 'release' | 'reads'>, n: number) => ({
  work: { n, release },
  read: [...records.values()].map(({ type, id, version }) => ({ n, type, id, version })),
  found: [...matches.values()].map((m) => ({ n, ...m })),
});

/** A settled write and where it meets others. */
interface Pending {
  readonly work: Work;
  readonly points: MeetingPoints;
}

/** What the database made of a group. */
interface Stored {
  /** Of each work in it; the others have to be settled again. */
  readonly stored: readonly boolean[];
  /** Follow-ups that jobs are to be asked for. */
  readonly queued: readonly number[];
}

async function storeGroup(group: readonly Pending[], on: Queryable): Promise<Stored> {
  const works = group.map(({ work }, n) => {
    const written = new Set(work.records.map((r) => recordPoint(r.type, r.id)));
    const { read, ...rest } = asJson(work, n);
    // What is written is held against its version as it is written.
    return { ...rest, read: read.filter((r) => !written.has(recordPoint(r.type, r.id))) };
  });
  const all = <T extends object>(of: (work: Work) => readonly T[]): readonly object[] =>
    group.flatMap(({ work }, n) => of(work).map((entry) => ({ n, ...entry })));
  const given = {
    shared: [...new Set(group.flatMap(({ points }) => [...points.shared]))],
    alone: [...new Set(group.flatMap(({ points }) => [...points.alone]))],
    works: works.map((w) => w.work),
    read: works.flatMap((w) => w.read),
    found: works.flatMap((w) => w.found),
    indexes: all(indexesByType),
    records: all((w) => w.records),
    gone: all((w) => w.gone),
    come: all((w) => w.come),
    writes: all((w) => w.writes.map((x) => ({ ...x, release: w.release }))),
    notifications: all((w) => w.notifications.map((x) => ({ ...x, release: w.release }))),
    keys: all((w) => (w.key ? [w.key] : [])),
    follow: all((w) => (w.follow ? [{ work: w.follow }] : [])),
  };
  const { rows } = await on.query<{ late: readonly number[]; queued: readonly number[] | null }>({
    name: 'put-writes',
    text: 'select late, queued from put_writes($1)',
    values: [JSON.stringify(given)],
  });
  const { late, queued } = rows[0]!;
  return { stored: group.map((_, n) => !late.includes(n)), queued: queued ?? [] };
}

const indexesByType = ({ records, indexes }: Work) =>
  [...new Set(records.map((r) => r.type))].map((type) => ({
    type,
    indexes: indexes.flatMap(([of, field, mode]) => (of === type ? [[field, mode] as const] : [])),
  }));

/** Points that a work of a group has at most: all of a group are named in one call, which takes everyone beyond some. */
const mostPoints = 30;
const mostInGroup = 16;

const joins = ({ shared, alone }: MeetingPoints): boolean =>
  shared.size + alone.size <= mostPoints && !alone.has(everyonePoint);

type Answer = 'stored' | 'overtaken' | 'not yet';

const storeTogether = together<Pending, Answer>(
  async (pending) => {
    const group = apart(pending);
    const { stored, queued } = await storeGroup(group, db());
    askForJobs(queued);
    return pending.map((p) => {
      const at = group.indexOf(p);
      return at < 0 ? 'not yet' : stored[at] ? 'stored' : 'overtaken';
    });
  },
  { mostInBatch: mostInGroup },
);

async function storeInTurn(pending: Pending): Promise<boolean> {
  for (;;) {
    const answer = await storeTogether(pending);
    if (answer !== 'not yet') return answer === 'stored';
  }
}

/**
 * Writes that come at the same time and do not meet are stored by one call.
 * @returns follow-ups that jobs are to be asked for once it is done, where it is part of a transaction.
 * @throws {OvertakenError} where it has to be settled again; nothing is stored then.
 */
export async function storeWrite(work: Work, on: Queryable): Promise<readonly number[]> {
  const points = pointsOf(work);
  const pending = { work, points };
  const isAlone = on !== db() || !joins(points);
  const { stored, queued } = await again(points, async () =>
    isAlone ? storeGroup([pending], on) : { stored: [await storeInTurn(pending)], queued: [] },
  );
  if (!stored[0]) throw new OvertakenError(points);
  if (on !== db()) return queued;
  askForJobs(queued);
  return [];
}

/** @throws {OvertakenError} where what was read stands no longer: a refusal of then is none of now. */
export async function requireStanding(release: number | null, reads: ReadsOf, on: Queryable): Promise<void> {
  const points = pointsOf({ reads, records: [], gone: [], come: [] });
  const { work, read, found } = asJson({ release, reads }, 0);
  const { rows } = await again(points, () =>
    on.query<{ late: readonly number[] }>({
      name: 'overtaken-works',
      text: 'select overtaken_works($1) as late',
      values: [JSON.stringify({ works: [work], read, found })],
    }),
  );
  if (rows[0]!.late.length > 0) throw new OvertakenError(points);
}

async function again<T>(points: MeetingPoints, work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (e) {
    throw isOvertaken(e) ? new OvertakenError(points, e) : e;
  }
}

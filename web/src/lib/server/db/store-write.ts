/** Stores a settled write whole, in one call that first makes sure that what it was settled on still stands. */
import type { TraceEntry } from '@rigid-rule/core/compile';
import type { RecordData } from '@rigid-rule/core/document';
import type { Change, Notification } from '@rigid-rule/core/settle';
import type { DependantWork } from './follow-ups.ts';
import type { MatchKey } from './match-keys.ts';
import { keyPoint, recordPoint, releasePoint, type MeetingPoints } from './meeting-points.ts';
import type { Queryable } from './pool.ts';
import type { ReadsOf } from './reads.ts';

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
}

/** What a write was settled on stands no longer, or it collided: it has to be settled again. */
export class OvertakenError extends Error {
  readonly points: MeetingPoints;
  constructor(points: MeetingPoints, cause?: unknown) {
    super('What this write was settled on has changed meanwhile.', { cause });
    this.points = points;
  }
}

/** Raised by `store_write`; serialization_failure; deadlock_detected. */
const overtaken = new Set(['RR001', '40001', '40P01']);
const isOvertaken = (e: unknown): boolean =>
  e instanceof Error && 'code' in e && overtaken.has(String((e as { code: unknown }).code));

export function pointsOf({
  reads,
  records,
  gone,
  come,
}: Pick<Work, 'reads' | 'records' | 'gone' | 'come'>): MeetingPoints {
  const alone = new Set(records.map((r) => recordPoint(r.type, r.id)));
  for (const k of [...gone, ...come]) alone.add(keyPoint(k.type, k.field, k.mode, k.key));
  const shared = new Set([releasePoint]);
  for (const { type, id } of reads.records.values()) shared.add(recordPoint(type, id));
  for (const { type, field, mode, key } of reads.matches.values()) shared.add(keyPoint(type, field, mode, key));
  return { shared, alone };
}

const readsAsJson = ({ records, matches }: ReadsOf) => ({
  read: [...records.values()].map(({ type, id, version }) => ({ type, id, version })),
  found: [...matches.values()],
});

/** @throws {OvertakenError} where it has to be settled again; nothing is stored then. */
export async function storeWrite(work: Work, on: Queryable): Promise<void> {
  const points = pointsOf(work);
  const { reads, ...rest } = work;
  const written = new Set(work.records.map((r) => recordPoint(r.type, r.id)));
  const { read, found } = readsAsJson(reads);
  const given = {
    ...rest,
    shared: [...points.shared],
    alone: [...points.alone],
    // What is written is held against its version as it is written.
    read: read.filter((r) => !written.has(recordPoint(r.type, r.id))),
    found,
  };
  await again(points, () =>
    on.query({ name: 'store-write', text: 'select store_write($1)', values: [JSON.stringify(given)] }),
  );
}

/** @throws {OvertakenError} where what was read stands no longer: a refusal of then is none of now. */
export async function requireStanding(release: number | null, reads: ReadsOf, on: Queryable): Promise<void> {
  const none = { reads, records: [], gone: [], come: [] };
  await again(pointsOf(none), () =>
    on.query({
      name: 'still-stands',
      text: 'select still_stands($1)',
      values: [JSON.stringify({ release, ...readsAsJson(reads) })],
    }),
  );
}

async function again(points: MeetingPoints, work: () => Promise<unknown>): Promise<void> {
  try {
    await work();
  } catch (e) {
    throw isOvertaken(e) ? new OvertakenError(points, e) : e;
  }
}

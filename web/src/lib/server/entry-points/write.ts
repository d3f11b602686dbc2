/**
 * A write on a live record. It is settled without holding up anybody, then stored in one call if all that it was settled
 * on still stands. Where it does not, it is settled again, this time alone at the points where it meets others.
 */
import { sameJson, type RecordData, type Rulebook } from '@rigid-rule/core/document';
import type { Follower } from '@rigid-rule/core/related';
import type { Settlement } from '@rigid-rule/core/settle';
import { setTimeout as sleep } from 'node:timers/promises';
import { askForJobs } from '../db/follow-ups.ts';
import { forgetIndexes, indexesOf, keysOf, type Index, type MatchKey } from '../db/match-keys.ts';
import { everyonePoint, meet, type MeetingPoints } from '../db/meeting-points.ts';
import { db, type Queryable } from '../db/pool.ts';
import { findRecord, takeRecordId } from '../db/records.ts';
import {
  OvertakenError,
  pointsOf,
  requireStanding,
  storeWrite,
  type RecordToStore,
  type Work,
} from '../db/store-write.ts';
import { underLock } from '../db/transaction.ts';
import { BusyError } from '../db/unavailable.ts';
import { writeByKey } from '../db/write-keys.ts';
import { inTurn } from '../in-turn.ts';
import { liveRelease } from '../rulebook.ts';
import { linkTitles, type TitleMap } from '../titles.ts';
import { previewIn, settleNow, type Preview, type Settled, type WriteRequest, type WriteResult } from './settling.ts';

const attempts = 6;
/** Milliseconds: those that collided do not meet again at once. */
const shortestPause = 4;

/** Writes on one record come one after the other within this process, so that they need not be settled twice. */
export const writeRecord = (request: WriteRequest): Promise<WriteResult> =>
  request.id === undefined ? untilStored(request) : inTurn(`${request.type} ${request.id}`, () => untilStored(request));

/** @throws {BusyError} where it was overtaken again and again. */
async function untilStored(request: WriteRequest): Promise<WriteResult> {
  let points: MeetingPoints | undefined;
  let taken: Promise<number> | undefined;
  // However often it is settled, a new record has one id.
  const newId = (): Promise<number> => (taken ??= takeRecordId(request.type));
  for (let attempt = 1; ; attempt++) {
    try {
      const { result, queued } = await (points ? aloneAt(points, request, newId) : writeOnce(db(), request, newId));
      askForJobs(queued);
      return result;
    } catch (e) {
      if (!(e instanceof OvertakenError)) throw e;
      if (attempt === attempts) throw new BusyError();
      points = e.points;
      forgetIndexes();
      await sleep(Math.random() * shortestPause * 2 ** attempt);
    }
  }
}

type NewId = () => Promise<number>;

interface Written {
  readonly result: WriteResult;
  /** Follow-ups that jobs are to be asked for once all is stored. */
  readonly queued: readonly number[];
}

const unchanged = (result: WriteResult): Written => ({ result, queued: [] });

/** Whoever reads or writes what this write met last time waits until it is stored. */
const aloneAt = (points: MeetingPoints, request: WriteRequest, newId: NewId): Promise<Written> =>
  underLock(async (client) => {
    await meet(points, client);
    return writeOnce(client, request, newId, points);
  });

async function writeOnce(
  client: Queryable,
  request: WriteRequest,
  newId: NewId,
  held?: MeetingPoints,
): Promise<Written> {
  const before = await sentBefore(request, client);
  if (before) return unchanged(before);
  const settled = await settleNow(client, request, newId);
  if ('refused' in settled) {
    // Perhaps by what the same request did meanwhile.
    const meanwhile = await sentBefore(request, client);
    if (meanwhile) return unchanged(meanwhile);
    const { refused, on } = settled;
    // What other records say is read bit by bit: nobody is refused for what was true at no time.
    if (on && on.world.reads.records.size + on.world.reads.matches.size > 0)
      await requireStanding(on.release, on.world.reads, client);
    return unchanged(refused);
  }
  const { id, stored, release, transaction } = settled;
  const work = await workOf(settled, request, client);
  // Nobody can look again whether a search without an index still gives the same: it is made with nobody else about.
  if (work.reads.unindexed && !held?.alone.has(everyonePoint)) throw new OvertakenError(everyone(pointsOf(work)));
  const queued = await storeWrite(work, client);
  const own = work.records.find((r) => r.type === request.type && r.id === id);
  const version = own ? own.version + 1 : stored!.version;
  return { result: { outcome: 'saved', id, version, release, settlement: transaction.settlement }, queued };
}

/** What came of the same request, where it was sent before and done: the record as it stands now. */
async function sentBefore({ key }: WriteRequest, client: Queryable): Promise<WriteResult | undefined> {
  const known = key && (await writeByKey(key.key, client));
  if (!known) return undefined;
  if (known.request !== key.request) return { outcome: 'key used' };
  const record = await findRecord(known.type, known.id, client);
  if (!record) return { outcome: 'no record' };
  const { id, version, data, held } = record;
  const { release, changes, messages } = known;
  return { outcome: 'saved', id, version, release, settlement: { ...nothingSettled, data, held, changes, messages } };
}

const nothingSettled: Omit<Settlement, 'data' | 'held' | 'changes' | 'messages'> = {
  verdict: 'saved',
  states: {},
  notifications: [],
  acted: [],
  writes: [],
  asks: [],
  trace: [],
};

/** What is stored of a settled write. */
export async function workOf(settled: Settled, request: WriteRequest, client: Queryable): Promise<Work> {
  const { id, stored, release, transaction, world } = settled;
  const { settlement, followers, dependants, childWrites } = transaction;
  const own = storedAs(request.type, id, stored, settlement);
  const moved = followers.flatMap((f) => followed(f, settled) ?? []);
  const records = [...(own ? [own] : []), ...moved.map((m) => m.record)];
  const types = [...new Set(records.map((r) => r.type))].sort();
  const indexes = await indexesOf(types, client);
  const befores = [stored?.data, ...moved.map((m) => m.before)];
  const keys = keyChanges(records, own ? befores : befores.slice(1), indexes);
  const version = own ? own.version + 1 : stored!.version;
  const notes = [
    ...transaction.own.map((s, i) => ({
      type: request.type,
      record_id: id,
      version,
      entry_point: i === 0 ? request.entryPoint : 'rule',
      moment: i > 0 || stored ? 'updating' : 'creating',
      settlement: s,
    })),
    ...moved.map(({ record, settlement: s }) => ({
      type: record.type,
      record_id: record.id,
      version: record.version + 1,
      entry_point: 'rule',
      moment: 'updating',
      settlement: s,
    })),
  ];
  const { by } = request;
  const author = {
    user_id: by && 'userId' in by ? by.userId : null,
    token_id: by && 'tokenId' in by ? by.tokenId : null,
  };
  const follows = dependants.length > 0 || childWrites.length > 0;
  return {
    release,
    reads: world.reads,
    records,
    indexes: indexes.map((i) => [i.type, i.field, i.mode] as const),
    ...keys,
    // That a rule looked again and nothing came of it is no event in a record's history.
    writes: notes
      .filter((n) => by !== null || n.settlement.changes.length > 0)
      .map(({ settlement: s, ...note }) => ({ ...note, ...author, changes: s.changes, trace: awake(s) })),
    notifications: notes.flatMap(({ type, record_id, settlement: s }) =>
      s.notifications.map((n) => ({ ...n, type, record_id })),
    ),
    ...(request.key
      ? { key: { ...request.key, type: request.type, record_id: id, version, messages: settlement.messages } }
      : {}),
    ...(follows
      ? { follow: { dependants, childWrites, after: settlement.data, depth: (request.depth ?? 0) + 1 } }
      : {}),
  };
}

const everyone = ({ shared, alone }: MeetingPoints): MeetingPoints => ({
  shared,
  alone: new Set([...alone, everyonePoint]),
});

const awake = ({ trace }: Settlement): Settlement['trace'] => trace.filter((t) => t.verdict !== 'asleep');

/** The record as the write leaves it; undefined where that is as it was: other open forms and ETags stay good. */
function storedAs(
  type: string,
  id: number,
  before: { readonly data: RecordData; readonly held: readonly string[]; readonly version: number } | undefined,
  { data, held }: Pick<Settlement, 'data' | 'held'>,
): RecordToStore | undefined {
  const same = before && sameJson(before.data, data) && sameJson(before.held, held);
  return same ? undefined : { type, id, version: before?.version ?? 0, data, held };
}

interface Moved {
  readonly record: RecordToStore;
  readonly before: RecordData;
  readonly settlement: Settlement;
}

/** A record of the same transaction that this one changed. */
function followed({ recordType, id, settlement }: Follower, { world }: Settled): Moved | undefined {
  const before = world.storedRecord(recordType, id)!;
  const record = storedAs(recordType, Number(id), before, settlement);
  return record && { record, before: before.data, settlement };
}

/** Only keys that are others than before are touched. */
function keyChanges(
  records: readonly RecordToStore[],
  befores: readonly (RecordData | undefined)[],
  indexes: readonly Index[],
): { readonly gone: readonly MatchKey[]; readonly come: readonly MatchKey[] } {
  const gone: MatchKey[] = [];
  const come: MatchKey[] = [];
  records.forEach(({ type, id, data }, i) => {
    const was = befores[i];
    // What a field held and goes on to hold has the same keys.
    const moved = was ? indexes.filter(({ field }) => !sameJson(was[field] ?? null, data[field] ?? null)) : indexes;
    const before = was ? keysOf(moved, type, id, was) : [];
    const after = keysOf(moved, type, id, data);
    const isIn = (keys: readonly MatchKey[], k: MatchKey): boolean =>
      keys.some((o) => o.field === k.field && o.mode === k.mode && o.key === k.key);
    gone.push(...before.filter((k) => !isIn(after, k)));
    come.push(...after.filter((k) => !isIn(before, k)));
  });
  return { gone, come };
}

/** What the write would do elsewhere, with the names of the records concerned and of those that they would link to. */
export async function previewWrite(request: WriteRequest): Promise<Preview & { readonly titles: TitleMap }> {
  const preview = (await previewIn(db(), request)) ?? { effects: [], dependants: [] };
  return { ...preview, titles: await titlesIn((await liveRelease()).program.rulebook, preview) };
}

async function titlesIn(rulebook: Rulebook, { effects }: Preview): Promise<TitleMap> {
  const titles: TitleMap = {};
  for (const type of rulebook.recordTypes) {
    const own = effects.filter((e) => e.recordType === type.key);
    const values = own.flatMap((e): RecordData[] =>
      e.changes.flatMap((c) => [{ [c.field]: c.from ?? null }, { [c.field]: c.to }]),
    );
    if (own.length === 0) continue;
    const named = await linkTitles(
      rulebook,
      type.fields,
      values,
      own.map((e) => ({ recordType: e.recordType, id: e.id })),
    );
    for (const [key, names] of Object.entries(named)) titles[key] = { ...titles[key], ...names };
  }
  return titles;
}

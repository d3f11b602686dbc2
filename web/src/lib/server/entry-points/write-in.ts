/** One write inside a transaction: settled under the release that is current there, then stored whole. */
import {
  canonicalJson,
  effectsOf,
  findDependants,
  judge,
  settleAnswered,
  settleWithWaves,
  type Change,
  type Difference,
  type Effect,
  type Dependants,
  type Follower,
  type Program,
  type Message,
  type RecordData,
  type RecordType,
  type Seen,
  type Settlement,
  type TraceEntry,
  type Transaction,
  type User,
  type Write,
} from '@rigid-rule/core';
import { queueDependants } from '../db/dependant-jobs.ts';
import { insertNotifications } from '../db/outbox.ts';
import type { Queryable } from '../db/pool.ts';
import {
  findRecord,
  insertRecord,
  insertWrite,
  lockRecord,
  nextRecordId,
  takeRecordId,
  updateRecord,
  type StoredRecord,
} from '../db/records.ts';
import { nowIn } from '../../now.ts';
import { DatabaseWorld } from '../related.ts';
import { live } from '../rulebook.ts';
import { refusals } from './integrity.ts';

export interface WriteRequest {
  readonly type: string;
  /** Absent for a new record. */
  readonly id?: number;
  /** The version that the caller changed; absent: whatever is there. */
  readonly version?: number;
  readonly sent: Readonly<Record<string, unknown>>;
  readonly typed: readonly string[];
  readonly entryPoint: string;
  /** Standing rules that the person asked for, by key. */
  readonly woken?: readonly string[];
  /** null: another rule. */
  readonly by: { readonly userId: number } | { readonly tokenId: number } | null;
  /** Who writes, as formulas may ask. */
  readonly user?: User;
  /** What a form showed of some fields before it was saved; if any of it comes out otherwise, nothing is saved. */
  readonly seen?: Seen & { readonly fields: readonly string[] };
  /** Fields handed back to their rules. */
  readonly handBack?: readonly string[];
  /** What a program sends is held as if a person had typed it. */
  readonly hold?: boolean;
  /** Why a record is settled because another one changed. */
  readonly relatedChanges?: readonly string[];
  readonly formerly?: NonNullable<Write['formerly']>;
  /** What rules of the record above give, by field. */
  readonly given?: NonNullable<Write['given']>;
  /** How many jobs led to this write. */
  readonly depth?: number;
}

export interface Saved {
  readonly outcome: 'saved';
  readonly id: number;
  readonly version: number;
  readonly release: number | null;
  readonly settlement: Settlement;
}

export type WriteResult =
  | Saved
  | { readonly outcome: 'stopped'; readonly release: number | null; readonly settlement: Settlement }
  /** Something that was seen comes out otherwise, for whatever reason. */
  | {
      readonly outcome: 'differs';
      readonly release: number | null;
      readonly settlement: Settlement;
      readonly differences: readonly Difference[];
      /** What other records would get now. */
      readonly effects: readonly Effect[];
    }
  | { readonly outcome: 'changed meanwhile'; readonly record: StoredRecord }
  | { readonly outcome: 'no record' }
  | { readonly outcome: 'no type' }
  /** The form or other way in does not exist, or exists no longer. */
  | { readonly outcome: 'no entry point' };

interface Opened {
  readonly release: number | null;
  readonly program: Program;
  readonly recordType: RecordType;
  readonly stored: StoredRecord | undefined;
  readonly world: DatabaseWorld;
}

/** What a request is about, or why it cannot be looked at. `find`: reads the stored record. */
async function open(
  client: Queryable,
  request: WriteRequest,
  find: typeof lockRecord,
): Promise<Opened | Exclude<WriteResult, { outcome: 'saved' | 'stopped' | 'differs' }>> {
  const { release, program } = await live(client);
  const type = program.types.get(request.type);
  if (!type) return { outcome: 'no type' };
  if (!type.entryPoints.has(request.entryPoint)) return { outcome: 'no entry point' };
  const stored = request.id === undefined ? undefined : await find(request.type, request.id, client);
  if (request.id !== undefined && !stored) return { outcome: 'no record' };
  if (stored && request.version !== undefined && stored.version !== request.version)
    return { outcome: 'changed meanwhile', record: stored };
  const world = new DatabaseWorld(client, program.rulebook.zone);
  return { release, program, recordType: type.recordType, stored, world };
}

/** What a write would do to other records. */
export interface Preview {
  readonly effects: readonly Effect[];
  /** Records that read this one and are settled again after the save, by record type. */
  readonly dependants: readonly { readonly recordType: string; readonly count: number }[];
}

/** Settles a write as `writeIn` would and keeps nothing of it; undefined where there is nothing to tell. */
export async function previewIn(client: Queryable, request: WriteRequest): Promise<Preview | undefined> {
  const opened = await open(client, request, findRecord);
  if ('outcome' in opened) return undefined;
  const { program, stored, world } = opened;
  const id = stored?.id ?? (await nextRecordId(request.type, client));
  const transaction = await settleRequest(program, request, id, stored, world);
  if (transaction.settlement.verdict !== 'saved') return undefined;
  const counts = new Map<string, Set<string>>();
  for (const d of transaction.dependants) {
    const ids = counts.get(d.recordType) ?? new Set();
    counts.set(d.recordType, ids);
    for (const found of await dependantIds(d, transaction.settlement.data, client)) ids.add(found);
  }
  const dependants = [...counts].flatMap(([recordType, ids]) =>
    ids.size > 0 ? [{ recordType, count: ids.size }] : [],
  );
  return { effects: effectsOf(transaction), dependants };
}

/** Ids of the records that a dependants' job settles. `after`: the record that changed, as the write left it. */
export async function dependantIds(d: Dependants, after: RecordData, client: Queryable): Promise<readonly string[]> {
  const world = new DatabaseWorld(client);
  const found = await settleAnswered(
    () => {
      const result = findDependants(d, after, world);
      return 'asks' in result ? { asks: result.asks, ids: [] } : { asks: [], ids: result.ids };
    },
    (ask, records) => {
      world.put(ask, records);
    },
    world.read,
  );
  return found?.ids ?? [];
}

/** One write inside a transaction of the caller. */
export async function writeIn(client: Queryable, request: WriteRequest): Promise<WriteResult> {
  const opened = await open(client, request, lockRecord);
  if ('outcome' in opened) return opened;
  const { release, program, recordType, stored, world } = opened;
  // A new record has its id before its rules look at it: what they write elsewhere may name it.
  const id = stored?.id ?? (await takeRecordId(request.type, client));
  const transaction = await settleRequest(program, request, id, stored, world);
  const { settlement } = transaction;
  const judged = judge(transaction, recordType, request.seen);
  if (judged.outcome !== 'passes') return { ...judged, release, settlement };
  const refused = await refusedBy(program, request.type, id, transaction, client);
  if (refused.length > 0) {
    const messages = [...settlement.messages, ...refused];
    return { outcome: 'stopped', release, settlement: { ...settlement, verdict: 'stopped', messages } };
  }
  const version = await store(request, id, stored, settlement, client);
  const note = noter(request, release, client);
  for (const [i, own] of transaction.own.entries())
    await note(
      request.type,
      id,
      version,
      i === 0 ? request.entryPoint : 'rule',
      i > 0 || stored ? 'updating' : 'creating',
      own,
    );
  for (const f of transaction.followers) await storeFollower(f, world, note, client);
  const { dependants, childWrites } = transaction;
  if (dependants.length > 0 || childWrites.length > 0) {
    const depth = (request.depth ?? 0) + 1;
    await queueDependants({ dependants, childWrites, after: settlement.data, depth }, client);
  }
  return { outcome: 'saved', id, version, release, settlement };
}

type Note = (
  type: string,
  id: number,
  version: number,
  entryPoint: string,
  moment: string,
  settlement: Settlement,
) => Promise<void>;

/** Keeps what a write did: its changes and trace, and what it sends out. */
function noter({ by }: WriteRequest, release: number | null, client: Queryable): Note {
  return async (type, id, version, entryPoint, moment, settlement) => {
    const changes: readonly Change[] = settlement.changes;
    const trace: readonly TraceEntry[] = settlement.trace.filter((t) => t.verdict !== 'asleep');
    await insertWrite(
      {
        type,
        recordId: id,
        version,
        userId: by && 'userId' in by ? by.userId : null,
        tokenId: by && 'tokenId' in by ? by.tokenId : null,
        entryPoint,
        moment,
        release,
        changes,
        trace,
      },
      client,
    );
    await insertNotifications(type, id, release, settlement.notifications, client);
  };
}

async function settleRequest(
  program: Program,
  request: WriteRequest,
  id: number,
  stored: StoredRecord | undefined,
  world: DatabaseWorld,
): Promise<Transaction> {
  const { zone } = program.rulebook;
  const write: Write = {
    recordType: request.type,
    id: String(id),
    before: stored ? { data: stored.data, held: stored.held, now: nowIn(zone, stored.changedAt) } : null,
    sent: request.sent,
    typed: request.typed,
    moment: stored ? 'updating' : 'creating',
    entryPoint: request.entryPoint,
    now: nowIn(zone),
    ...(request.given ? { given: request.given } : {}),
    ...(request.hold ? { hold: true } : {}),
    ...(request.handBack ? { handBack: request.handBack } : {}),
    ...(request.user ? { user: request.user } : {}),
    ...(request.relatedChanges ? { relatedChanges: request.relatedChanges } : {}),
    ...(request.formerly ? { formerly: request.formerly } : {}),
    ...(request.woken ? { woken: request.woken.filter((key) => isStanding(program, request.type, key)) } : {}),
  };
  const put: AnsweredPut = (ask, found) => {
    world.put(ask, found);
  };
  const settled = await settleAnswered(() => settleWithWaves(program, write, world), put, world.read);
  if (settled) return settled;
  const last = settleWithWaves(program, write, world);
  const text = 'The rules keep asking for other records and never have enough. Nothing was saved.';
  const messages = [...last.settlement.messages, { severity: 'stop', text } as const];
  return { ...last, settlement: { ...last.settlement, verdict: 'failed', messages } };
}

type AnsweredPut = Parameters<typeof settleAnswered>[1];

const isStanding = (program: Program, type: string, key: string): boolean =>
  program.types.get(type)?.rules.some((r) => r.rule.key === key && r.standing) ?? false;

/** What stands against storing the record, or one that follows it. */
async function refusedBy(
  program: Program,
  type: string,
  id: number,
  { settlement, followers }: Transaction,
  client: Queryable,
): Promise<readonly Message[]> {
  const { rulebook } = program;
  const typeOf = (key: string): RecordType => program.types.get(key)!.recordType;
  const messages = [...(await refusals(typeOf(type), id, settlement.changes, rulebook, client))];
  for (const f of followers) {
    const own = await refusals(typeOf(f.recordType), Number(f.id), f.settlement.changes, rulebook, client);
    const where = `${typeOf(f.recordType).name} ${f.id}`;
    messages.push(...own.map(({ severity, text }): Message => ({ severity, text: `${where}: ${text}` })));
  }
  return messages;
}

/** The version that the record has now. */
async function store(
  request: WriteRequest,
  id: number,
  stored: StoredRecord | undefined,
  { data, held }: Settlement,
  client: Queryable,
): Promise<number> {
  if (!stored) {
    await insertRecord(request.type, id, data, held, client);
    return 1;
  }
  const same = canonicalJson(stored.data) === canonicalJson(data) && canonicalJson(stored.held) === canonicalJson(held);
  // A write that changes nothing keeps the version, so that other open forms and ETags stay good.
  return same ? stored.version : updateRecord(request.type, id, data, held, client);
}

/** A record of the same transaction that this one changed: stored where it differs. */
async function storeFollower(f: Follower, world: DatabaseWorld, note: Note, client: Queryable): Promise<void> {
  const { data, held } = f.settlement;
  const before = world.held(f.recordType, f.id);
  if (canonicalJson(f.before) === canonicalJson(data) && canonicalJson(before) === canonicalJson(held)) return;
  const version = await updateRecord(f.recordType, Number(f.id), data, held, client);
  await note(f.recordType, Number(f.id), version, 'rule', 'updating', f.settlement);
}

/** One write inside a transaction: settled under the release that is current there, then stored whole. */
import {
  canonicalJson,
  settleAnswered,
  settleWithWaves,
  type Change,
  type Follower,
  type Program,
  type RecordData,
  type Settlement,
  type TraceEntry,
  type Transaction,
  type User,
  type Verdict,
  type Write,
} from '@rigid-rule/core';
import { queueDependants } from '../db/dependant-jobs.ts';
import { insertNotifications } from '../db/outbox.ts';
import type { Queryable } from '../db/pool.ts';
import { insertRecord, insertWrite, lockRecord, takeRecordId, updateRecord, type StoredRecord } from '../db/records.ts';
import { nowIn } from '../../now.ts';
import { DatabaseWorld } from '../related.ts';
import { live } from '../rulebook.ts';

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
  /** What a form showed before it was saved; if the present release says otherwise, nothing is saved. */
  readonly seen?: { readonly release: number | null; readonly data: RecordData; readonly verdict: Verdict };
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
  /** The release has changed since the form was opened, and with it the result. */
  | { readonly outcome: 'differs'; readonly release: number | null; readonly settlement: Settlement }
  | { readonly outcome: 'changed meanwhile'; readonly record: StoredRecord }
  | { readonly outcome: 'no record' }
  | { readonly outcome: 'no type' };

/** One write inside a transaction of the caller. */
export async function writeIn(client: Queryable, request: WriteRequest): Promise<WriteResult> {
  const { release, program } = await live(client);
  if (!program.types.has(request.type)) return { outcome: 'no type' };
  const stored = request.id === undefined ? undefined : await lockRecord(request.type, request.id, client);
  if (request.id !== undefined && !stored) return { outcome: 'no record' };
  if (stored && request.version !== undefined && stored.version !== request.version)
    return { outcome: 'changed meanwhile', record: stored };

  const world = new DatabaseWorld(client, program.rulebook.zone);
  // A new record has its id before its rules look at it: what they write elsewhere may name it.
  const id = stored?.id ?? (await takeRecordId(request.type, client));
  const transaction = await settleRequest(program, request, id, stored, world);
  const { settlement } = transaction;
  if (differsFromSeen(request, release, settlement)) return { outcome: 'differs', release, settlement };
  if (settlement.verdict !== 'saved') return { outcome: 'stopped', release, settlement };
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

function differsFromSeen({ seen }: WriteRequest, release: number | null, settlement: Settlement): boolean {
  if (!seen || seen.release === release) return false;
  return seen.verdict !== settlement.verdict || canonicalJson(seen.data) !== canonicalJson(settlement.data);
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

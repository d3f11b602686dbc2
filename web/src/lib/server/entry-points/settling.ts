/** What a write comes to: settled under the release that is live, on what the database holds now. Nothing is stored. */
import type { Program } from '@rigid-rule/core/compile';
import type { RecordData, RecordType, User } from '@rigid-rule/core/document';
import type { Write } from '@rigid-rule/core/records';
import {
  effectsOf,
  findDependants,
  judge,
  settleAnswered,
  settleAndPropagate,
  type Dependants,
  type Difference,
  type Effect,
  type Seen,
  type Transaction,
} from '@rigid-rule/core/related';
import type { Message, Settlement, SettleOptions } from '@rigid-rule/core/settle';
import type { Queryable } from '../db/pool.ts';
import type { WriteKey } from '../db/write-keys.ts';
import { beginChange, nextRecordId, type StoredRecord } from '../db/records.ts';
import { nowIn } from '../../now.ts';
import { DatabaseSource } from '../related.ts';
import { liveRelease, liveAs, type Live } from '../rulebook.ts';
import { WorkTime } from '../work-time.ts';
import { refusals } from './integrity.ts';
import { isWayIn, type WayIn } from './way-in.ts';

/** What is written, however it comes in. */
export interface WriteInput {
  readonly type: string;
  /** Absent for a new record. */
  readonly id?: number;
  /** The version that the caller changed, or any of several; absent: whatever is there. */
  readonly versions?: readonly number[];
  readonly sent: Readonly<Record<string, unknown>>;
  readonly typed: readonly string[];
  /** Standing rules that the person asked for, by key. */
  readonly woken?: readonly string[];
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
  readonly writtenBy?: NonNullable<Write['writtenBy']>;
  /** How many jobs led to this write. */
  readonly depth?: number;
  /** Sent again with the same key it is not done again. */
  readonly key?: WriteKey;
}

export type WriteRequest = WriteInput & WayIn;

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
  /** Something else was written by that key. */
  | { readonly outcome: 'key used' }
  /** The form or other way in does not exist, or exists no longer. */
  | { readonly outcome: 'no entry point' };

type Refused = Exclude<WriteResult, { outcome: 'saved' }>;

interface Opened extends Live {
  readonly recordType: RecordType;
  readonly stored: StoredRecord | undefined;
  readonly world: DatabaseSource;
}

/** What a request is about, or why it cannot be looked at. */
async function open(client: Queryable, request: WriteRequest): Promise<Opened | Refused> {
  const begun = request.id === undefined ? undefined : await beginChange(request.type, request.id, client);
  const { release, program } = await (begun ? liveAs(begun.release, client) : liveRelease(client));
  const stored = begun?.stored;
  const type = program.types.get(request.type);
  if (!type) return { outcome: 'no type' };
  if (!type.entryPoints.has(request.entryPoint) || !isWayIn(request.entryPoint, request.by))
    return { outcome: 'no entry point' };
  if (request.id !== undefined && !stored) return { outcome: 'no record' };
  if (stored && request.versions && !request.versions.includes(stored.version))
    return { outcome: 'changed meanwhile', record: stored };
  const world = new DatabaseSource(client, program.rulebook.zone);
  if (stored) world.reads.record({ type: request.type, id: stored.id, version: stored.version });
  return { release, program, recordType: type.recordType, stored, world };
}

/** A write that may be stored: what it comes to and what that hangs on. */
export interface Settled extends Opened {
  readonly id: number;
  readonly transaction: Transaction;
}

/** Settles a write as it stands now; the answer where there is nothing to store. `newId`: for a record that is made. */
export async function settleNow(
  client: Queryable,
  request: WriteRequest,
  newId: () => Promise<number>,
): Promise<Settled | Refusal> {
  const opened = await open(client, request);
  if ('outcome' in opened) return { refused: opened };
  const { release, program, recordType, stored, world } = opened;
  // A new record has its id before its rules look at it: what they write elsewhere may name it.
  const id = stored?.id ?? (await newId());
  const transaction = await settleRequest(program, request, id, stored, world);
  const refused = (result: Refused): Refusal => ({ refused: result, on: opened });
  const { settlement } = transaction;
  const judged = judge(transaction, recordType, request.seen);
  if (judged.outcome !== 'passes') return refused({ ...judged, release, settlement });
  const against = await refusedBy(program, request.type, id, transaction, world, client);
  if (against.length === 0) return { ...opened, id, transaction };
  const messages = [...settlement.messages, ...against];
  return refused({ outcome: 'stopped', release, settlement: { ...settlement, verdict: 'stopped', messages } });
}

/** `on`: what it was settled on, where it came to that. */
export interface Refusal {
  readonly refused: Refused;
  readonly on?: Opened;
}

/** What a write would do to other records. */
export interface Preview {
  readonly effects: readonly Effect[];
  /** Records that read this one and are settled again after the save, by record type. */
  readonly dependants: readonly { readonly recordType: string; readonly count: number }[];
}

/** Settles a write as a save would and keeps nothing of it; undefined where there is nothing to tell. */
export async function previewIn(client: Queryable, request: WriteRequest): Promise<Preview | undefined> {
  const opened = await open(client, request);
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

export interface SettledAside {
  readonly stored: StoredRecord;
  readonly settlement: Settlement;
}

/** What a write to a stored record would come to, on what is stored; nothing is kept of it. */
export async function settleAside(
  client: Queryable,
  request: WriteRequest & { readonly id: number },
): Promise<SettledAside | undefined> {
  const opened = await open(client, request);
  if ('outcome' in opened || !opened.stored) return undefined;
  const { program, stored, world } = opened;
  const { settlement } = await settleRequest(program, request, request.id, stored, world);
  return { stored, settlement };
}

/** What a write would come to under rules that need not be live, on what the database holds; nothing is kept of it. */
export const settleUnder = async (
  world: DatabaseSource,
  program: Program,
  write: Write,
  options: SettleOptions = {},
): Promise<Settlement> => (await settleWrite(program, world, write, options)).settlement;

/** Ids of the records that a dependants' job settles. `after`: the record that changed, as the write left it. */
export async function dependantIds(d: Dependants, after: RecordData, client: Queryable): Promise<readonly string[]> {
  const world = new DatabaseSource(client);
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

async function settleRequest(
  program: Program,
  request: WriteRequest,
  id: number,
  stored: StoredRecord | undefined,
  world: DatabaseSource,
): Promise<Transaction> {
  const { zone } = program.rulebook;
  return settleWrite(program, world, {
    recordType: request.type,
    id: String(id),
    before: stored ? { data: stored.data, held: stored.held, now: nowIn(zone, stored.changedAt) } : null,
    sent: request.sent,
    typed: request.typed,
    moment: stored ? 'updating' : 'creating',
    entryPoint: request.entryPoint,
    now: nowIn(zone),
    ...(request.writtenBy ? { writtenBy: request.writtenBy } : {}),
    ...(request.hold ? { hold: true } : {}),
    ...(request.handBack ? { handBack: request.handBack } : {}),
    ...(request.user ? { user: request.user } : {}),
    ...(request.relatedChanges ? { relatedChanges: request.relatedChanges } : {}),
    ...(request.formerly ? { formerly: request.formerly } : {}),
    ...(request.woken ? { woken: request.woken.filter((key) => isStanding(program, request.type, key)) } : {}),
  });
}

async function settleWrite(
  program: Program,
  world: DatabaseSource,
  write: Write,
  options: SettleOptions = {},
): Promise<Transaction> {
  const put: AnsweredPut = (ask, found) => {
    world.put(ask, found);
  };
  const time = new WorkTime();
  const settleOnce = (): Transaction =>
    time.during(() => settleAndPropagate(program, write, world, { ...options, deadline: time }));
  const settled = await settleAnswered(settleOnce, put, world.read);
  if (settled) return settled;
  const last = settleOnce();
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
  world: DatabaseSource,
  client: Queryable,
): Promise<readonly Message[]> {
  const { rulebook } = program;
  const typeOf = (key: string): RecordType => program.types.get(key)!.recordType;
  const messages = [...(await refusals(typeOf(type), id, settlement.changes, rulebook, world, client))];
  for (const f of followers) {
    const own = await refusals(typeOf(f.recordType), Number(f.id), f.settlement.changes, rulebook, world, client);
    const where = `${typeOf(f.recordType).name} ${f.id}`;
    messages.push(...own.map(({ severity, text }): Message => ({ severity, text: `${where}: ${text}` })));
  }
  return messages;
}

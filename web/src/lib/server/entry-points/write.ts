/** A write on a live record: settled under the release that is current in its own transaction, then stored whole. */
import { canonicalJson, settle, type Program, type RecordData, type Settlement, type Verdict } from '@rigid-rule/core';
import { insertRecord, insertWrite, lockRecord, updateRecord, type StoredRecord } from '../db/records.ts';
import { serializable } from '../db/transaction.ts';
import { nowIn } from '../../now.ts';
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
  readonly by: { readonly userId: number } | { readonly tokenId: number };
  /** What a form showed before it was saved; if the present release says otherwise, nothing is saved. */
  readonly seen?: { readonly release: number | null; readonly data: RecordData; readonly verdict: Verdict };
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

export async function writeRecord(request: WriteRequest): Promise<WriteResult> {
  return serializable(async (client): Promise<WriteResult> => {
    const { release, program } = await live(client);
    if (!program.types.has(request.type)) return { outcome: 'no type' };
    const stored = request.id === undefined ? undefined : await lockRecord(request.type, request.id, client);
    if (request.id !== undefined && !stored) return { outcome: 'no record' };
    if (stored && request.version !== undefined && stored.version !== request.version)
      return { outcome: 'changed meanwhile', record: stored };

    const settlement = settleRequest(program, request, stored, nowIn(program.rulebook.zone));
    if (differsFromSeen(request, release, settlement)) return { outcome: 'differs', release, settlement };
    if (settlement.verdict !== 'saved') return { outcome: 'stopped', release, settlement };
    const { id, version } = await store(request, stored, settlement, client);
    await insertWrite(
      {
        type: request.type,
        recordId: id,
        version,
        userId: 'userId' in request.by ? request.by.userId : null,
        tokenId: 'tokenId' in request.by ? request.by.tokenId : null,
        entryPoint: request.entryPoint,
        moment: stored ? 'updating' : 'creating',
        release,
        changes: settlement.changes,
        trace: settlement.trace.filter((t) => t.verdict !== 'asleep'),
      },
      client,
    );
    return { outcome: 'saved', id, version, release, settlement };
  });
}

function settleRequest(
  program: Program,
  request: WriteRequest,
  stored: StoredRecord | undefined,
  now: string,
): Settlement {
  return settle(program, {
    recordType: request.type,
    before: stored ? { data: stored.data, held: stored.held } : null,
    sent: request.sent,
    typed: request.typed,
    moment: stored ? 'updating' : 'creating',
    entryPoint: request.entryPoint,
    now,
    ...(request.woken ? { woken: request.woken.filter((key) => isStanding(program, request.type, key)) } : {}),
  });
}

const isStanding = (program: Program, type: string, key: string): boolean =>
  program.types.get(type)?.rules.some((r) => r.rule.key === key && r.standing) ?? false;

function differsFromSeen({ seen }: WriteRequest, release: number | null, settlement: Settlement): boolean {
  if (!seen || seen.release === release) return false;
  return seen.verdict !== settlement.verdict || canonicalJson(seen.data) !== canonicalJson(settlement.data);
}

async function store(
  request: WriteRequest,
  stored: StoredRecord | undefined,
  { data, held }: Settlement,
  client: Parameters<Parameters<typeof serializable>[0]>[0],
): Promise<{ id: number; version: number }> {
  if (!stored) return { id: await insertRecord(request.type, data, held, client), version: 1 };
  const same = canonicalJson(stored.data) === canonicalJson(data) && canonicalJson(stored.held) === canonicalJson(held);
  // A write that changes nothing keeps the version, so that other open forms and ETags stay good.
  if (same) return { id: stored.id, version: stored.version };
  return { id: stored.id, version: await updateRecord(request.type, stored.id, data, held, client) };
}

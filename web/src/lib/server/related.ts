/** Answers what rules ask of other records: one query for each kind of question, all kept for the write to be held to. */
import { AnsweredSource, type RecordQuery, type FoundRecord, type RecordSource } from '@rigid-rule/core/records';
import { soughtKeys } from '@rigid-rule/core/values';
import { bounded, findByKeys, isIndexed, isMode, scanForKeys } from './db/match-keys.ts';
import type { Queryable } from './db/pool.ts';
import { Reads } from './db/reads.ts';
import { findRecords, type StoredRecord } from './db/records.ts';
import { groupsOf, soughtValue, type Search } from './searches.ts';
import { nowIn } from '../now.ts';

export class DatabaseSource extends AnsweredSource implements RecordSource {
  readonly reads = new Reads();
  private readonly stored = new Map<string, StoredRecord>();
  private readonly client: Queryable;
  private readonly zone: string;

  /** `zone`: the organisation's, in which moments are told. */
  constructor(client: Queryable, zone = 'UTC') {
    super();
    this.client = client;
    this.zone = zone;
  }

  /** The record as it was read; undefined where nobody asked for it. */
  storedRecord(recordType: string, id: string): StoredRecord | undefined {
    return this.stored.get(`${recordType}:${id}`);
  }

  held(recordType: string, id: string): readonly string[] {
    return this.storedRecord(recordType, id)?.held ?? [];
  }

  writtenAt(recordType: string, id: string): string | undefined {
    const found = this.storedRecord(recordType, id);
    return found && nowIn(this.zone, found.changedAt);
  }

  readonly read = async (asks: readonly RecordQuery[]): Promise<readonly (readonly FoundRecord[])[]> => {
    const answers = asks.map((): readonly FoundRecord[] => []);
    const groups = groupsOf(asks);
    await Promise.all([
      ...groups.searches.map(async (group) => {
        const found = await this.search(
          group,
          group.asks.map((i) => soughtValue(asks[i]!)),
        );
        group.asks.forEach((ask, i) => (answers[ask] = found[i]!));
      }),
      ...[...groups.records].map(async ([type, asked]) => {
        const ids = asked.map((i) => idOf(asks[i]!));
        const found = await this.load(type, ids.flat());
        asked.forEach((ask, i) => (answers[ask] = ids[i]!.flatMap((id) => found.get(id) ?? [])));
      }),
    ]);
    return answers;
  };

  private keep(type: string, record: StoredRecord): FoundRecord {
    this.reads.record({ type, id: record.id, version: record.version });
    this.stored.set(`${type}:${record.id}`, record);
    return { id: String(record.id), data: record.data };
  }

  private async load(type: string, ids: readonly number[]): Promise<ReadonlyMap<number, FoundRecord>> {
    const found = new Map<number, FoundRecord>();
    for (const record of await findRecords(type, [...new Set(ids)], this.client))
      found.set(record.id, this.keep(type, record));
    for (const id of ids) if (!found.has(id)) this.reads.record({ type, id, version: 0 });
    return found;
  }

  /** For each sought value the records that the best of its keys finds. */
  private async search({ type, field, mode }: Search, values: readonly string[]): Promise<FoundRecord[][]> {
    if (!isMode(mode)) return values.map(() => []);
    const sought = values.map((v) => soughtKeys(mode, v).map(bounded));
    const keys = [...new Set(sought.flat())];
    const index = { type, field, mode };
    const indexed = await isIndexed(index, this.client);
    if (!indexed) this.reads.unindexed = true;
    // Rightly, if slowly: a reader never makes an index.
    const rows = await (indexed ? findByKeys : scanForKeys)(index, keys, this.client);
    const byKey = new Map<string, FoundRecord[]>(keys.map((key) => [key, []]));
    for (const { key, ...record } of rows) byKey.get(key)?.push(this.keep(type, record));
    if (indexed)
      for (const [key, found] of byKey) this.reads.match({ ...index, key, ids: found.map((r) => Number(r.id)) });
    return sought.map((own) => byKey.get(own.find((k) => byKey.get(k)!.length > 0) ?? '') ?? []);
  }
}

/** An id that is no number names no record. */
const idOf = (ask: RecordQuery): readonly number[] =>
  ask.kind === 'record' && /^\d{1,15}$/.test(ask.id) ? [Number(ask.id)] : [];

/** Answers what rules ask of other records, from the transaction's own snapshot: one query for each kind of question. */
import { AnsweredWorld, type Ask, type FoundRecord, type World } from '@rigid-rule/core';
import { findByKeys } from './db/match-keys.ts';
import type { Queryable } from './db/pool.ts';
import { findRecords } from './db/records.ts';
import { nowIn } from '../now.ts';

export class DatabaseWorld extends AnsweredWorld implements World {
  private readonly stored = new Map<string, { readonly held: readonly string[]; readonly changedAt: Date }>();
  private readonly client: Queryable;
  private readonly zone: string;

  /** `zone`: the organisation's, in which moments are told. */
  constructor(client: Queryable, zone = 'UTC') {
    super();
    this.client = client;
    this.zone = zone;
  }

  held(recordType: string, id: string): readonly string[] {
    return this.stored.get(`${recordType}:${id}`)?.held ?? [];
  }

  writtenAt(recordType: string, id: string): string | undefined {
    const found = this.stored.get(`${recordType}:${id}`);
    return found && nowIn(this.zone, found.changedAt);
  }

  readonly read = async (asks: readonly Ask[]): Promise<readonly (readonly FoundRecord[])[]> => {
    const ids = asks.map((a): readonly number[] => (a.kind === 'record' ? idOf(a.id) : []));
    for (const group of groups(asks)) {
      const { recordType, field, mode } = group;
      const values = group.places.map((i) => soughtValue(asks[i]!));
      const found = await findByKeys(recordType, field, mode, values, this.client);
      group.places.forEach((place, i) => (ids[place] = found[i]!));
    }
    const records = new Map<string, Map<string, FoundRecord>>();
    for (const type of new Set(asks.map((a) => a.recordType))) {
      const wanted = asks.flatMap((a, i) => (a.recordType === type ? ids[i]! : []));
      records.set(type, await this.load(type, wanted));
    }
    return asks.map((a, i) => ids[i]!.flatMap((id) => records.get(a.recordType)?.get(String(id)) ?? []));
  };

  private async load(type: string, ids: readonly number[]): Promise<Map<string, FoundRecord>> {
    const found = new Map<string, FoundRecord>();
    for (const { id, data, held, changedAt } of await findRecords(type, [...new Set(ids)], this.client)) {
      this.stored.set(`${type}:${id}`, { held, changedAt });
      found.set(String(id), { id: String(id), data });
    }
    return found;
  }
}

/** An id that is no number names no record. */
const idOf = (id: string): readonly number[] => (/^\d{1,15}$/.test(id) ? [Number(id)] : []);

const soughtValue = (ask: Ask): string => (ask.kind === 'match' ? ask.value : ask.kind === 'children' ? ask.id : '');

interface Group {
  readonly recordType: string;
  readonly field: string;
  readonly mode: string;
  readonly places: number[];
}

function groups(asks: readonly Ask[]): readonly Group[] {
  const found = new Map<string, Group>();
  asks.forEach((ask, place) => {
    if (ask.kind === 'record') return;
    const mode = ask.kind === 'match' ? ask.mode : 'exact';
    const key = `${ask.recordType}\0${ask.field}\0${mode}`;
    const group = found.get(key) ?? { recordType: ask.recordType, field: ask.field, mode, places: [] };
    found.set(key, group);
    group.places.push(place);
  });
  return [...found.values()];
}

/**
 * What a write may ask about other records. Settling is synchronous: a question without an answer suspends the rule;
 * the caller answers what was asked, all from one snapshot, and settles again.
 */
import type { RecordData } from '../document/document.ts';
import { keyOfStored, soughtKeys, type MatchMode } from '../values/match-keys.ts';
import type { RowsElsewhere } from './row-answers.ts';

export type RecordQuery =
  | { readonly kind: 'record'; readonly recordType: string; readonly id: string }
  /** Records of the type whose lookup `field` names the record `id`. */
  | { readonly kind: 'children'; readonly recordType: string; readonly field: string; readonly id: string }
  | {
      readonly kind: 'match';
      readonly recordType: string;
      readonly field: string;
      readonly mode: MatchMode;
      readonly value: string;
    };

export interface FoundRecord {
  readonly id: string;
  readonly data: RecordData;
}

export interface RecordSource {
  /** What there is, in order of id; undefined where the question has no answer yet. */
  answer(ask: RecordQuery): readonly FoundRecord[] | undefined;
  /** The same before the write that caused all that is settled now; absent: as it is. */
  readonly former?: RecordSource;
  /** Absent: the rows of all mapping tables are at hand. */
  readonly rows?: RowsElsewhere | undefined;
  /** Fields of a record that a person set last. */
  held?(recordType: string, id: string): readonly string[];
  /** The moment of its last write, ISO 8601 with offset: the clock as its conditions saw it then. */
  writtenAt?(recordType: string, id: string): string | undefined;
}

/** Passes after which a write whose questions never end is given up. */
export const mostQueryPasses = 10;

/**
 * Works, answers what that left open, and works again until nothing is open any more; undefined where answers lead to
 * further questions without end.
 */
export async function untilAnswered<T>(
  work: () => T,
  isOpen: (result: T) => boolean,
  answer: (result: T) => Promise<void>,
): Promise<T | undefined> {
  for (let pass = 1; pass <= mostQueryPasses; pass++) {
    const result = work();
    if (!isOpen(result)) return result;
    await answer(result);
  }
  return undefined;
}

export function queryKey(ask: RecordQuery): string {
  switch (ask.kind) {
    case 'record':
      return `r\0${ask.recordType}\0${ask.id}`;
    case 'children':
      return `c\0${ask.recordType}\0${ask.field}\0${ask.id}`;
    case 'match':
      return `m\0${ask.recordType}\0${ask.field}\0${ask.mode}\0${ask.value}`;
  }
}

/** Knows nothing: every question stays open. */
export const emptySource: RecordSource = { answer: () => undefined };

/** Answers kept from pass to pass. A record that came with a list or a match answers for itself as well. */
export class AnsweredSource implements RecordSource {
  private readonly answers = new Map<string, readonly FoundRecord[]>();

  constructor(readonly rows?: RowsElsewhere) {}

  answer(ask: RecordQuery): readonly FoundRecord[] | undefined {
    return this.answers.get(queryKey(ask));
  }

  put(ask: RecordQuery, found: readonly FoundRecord[]): void {
    this.answers.set(queryKey(ask), found);
    for (const record of found)
      this.answers.set(queryKey({ kind: 'record', recordType: ask.recordType, id: record.id }), [record]);
  }
}

export interface StoredRecordOf extends FoundRecord {
  readonly recordType: string;
}

const compareIds = (a: FoundRecord, b: FoundRecord): number => {
  const [x, y] = [Number(a.id), Number(b.id)];
  return Number.isNaN(x) || Number.isNaN(y) ? (a.id < b.id ? -1 : 1) : x - y;
};

/** A world that is a list of records, indexed as it is asked: samples, tests, files. */
export class RecordsSource implements RecordSource {
  private readonly records: ReadonlyMap<string, ReadonlyMap<string, FoundRecord>>;
  private readonly indexes = new Map<string, ReadonlyMap<string, readonly FoundRecord[]>>();

  constructor(records: Iterable<StoredRecordOf>) {
    const byType = new Map<string, Map<string, FoundRecord>>();
    for (const { recordType, id, data } of records) {
      const own = byType.get(recordType) ?? new Map<string, FoundRecord>();
      byType.set(recordType, own.set(id, { id, data }));
    }
    this.records = byType;
  }

  answer(ask: RecordQuery): readonly FoundRecord[] {
    const own = this.records.get(ask.recordType);
    if (!own) return [];
    if (ask.kind === 'record') return own.has(ask.id) ? [own.get(ask.id)!] : [];
    if (ask.kind === 'children') return this.index(ask.recordType, ask.field, 'exact').get(ask.id) ?? [];
    const index = this.index(ask.recordType, ask.field, ask.mode);
    for (const key of soughtKeys(ask.mode, ask.value)) {
      const found = index.get(key);
      if (found) return found;
    }
    return [];
  }

  private index(recordType: string, field: string, mode: MatchMode): ReadonlyMap<string, readonly FoundRecord[]> {
    const name = `${recordType}\0${field}\0${mode}`;
    let index = this.indexes.get(name);
    if (!index) this.indexes.set(name, (index = indexBy(this.records.get(recordType)!.values(), field, mode)));
    return index;
  }
}

function indexBy(
  records: Iterable<FoundRecord>,
  field: string,
  mode: MatchMode,
): ReadonlyMap<string, readonly FoundRecord[]> {
  const index = new Map<string, FoundRecord[]>();
  for (const record of records) {
    const key = keyOfStored(mode, record.data[field]);
    if (key === null) continue;
    const list = index.get(key);
    if (list) list.push(record);
    else index.set(key, [record]);
  }
  for (const list of index.values()) list.sort(compareIds);
  return index;
}

/** Records written by this transaction hide those of the world behind it. */
export class OverlaySource implements RecordSource {
  readonly former?: RecordSource;
  private readonly behind: RecordSource;
  private readonly written = new Map<string, StoredRecordOf>();

  /** `former`: all as it was before any of it was written. */
  constructor(behind: RecordSource, former?: RecordSource) {
    this.behind = behind;
    if (former) this.former = former;
  }

  held(recordType: string, id: string): readonly string[] {
    return this.behind.held?.(recordType, id) ?? [];
  }

  write(recordType: string, id: string, data: RecordData): void {
    this.written.set(`${recordType}\0${id}`, { recordType, id, data });
  }

  answer(ask: RecordQuery): readonly FoundRecord[] | undefined {
    if (ask.kind === 'record') {
      const own = this.written.get(`${ask.recordType}\0${ask.id}`);
      return own ? [own] : this.behind.answer(ask);
    }
    const found = this.behind.answer(ask);
    const own = [...this.written.values()].filter((r) => r.recordType === ask.recordType);
    if (!found || own.length === 0) return found;
    const hidden = new Set(own.map((r) => r.id));
    const kept = found.filter((r) => !hidden.has(r.id));
    // A match by the longest beginning has to be judged among all that are in question.
    const merged = new RecordsSource([...own, ...kept.map((r) => ({ ...r, recordType: ask.recordType }))]).answer(ask);
    return [...merged].sort(compareIds);
  }
}

/** What a write has read of other records, so that it can be held against what stands when it is stored. */
import { keyPoint, recordPoint } from './meeting-points.ts';

export interface ReadRecord {
  readonly type: string;
  readonly id: number;
  /** 0: there was none. */
  readonly version: number;
}

export interface ReadMatch {
  readonly type: string;
  readonly field: string;
  readonly mode: string;
  readonly key: string;
  /** In order. */
  readonly ids: readonly number[];
}

export interface ReadsOf {
  readonly records: ReadonlyMap<string, ReadRecord>;
  readonly matches: ReadonlyMap<string, ReadMatch>;
  /** Something was looked for without an index: nobody can tell cheaply whether it still stands. */
  readonly unindexed: boolean;
}

export class Reads implements ReadsOf {
  readonly records = new Map<string, ReadRecord>();
  readonly matches = new Map<string, ReadMatch>();
  unindexed = false;

  record(read: ReadRecord): void {
    const point = recordPoint(read.type, read.id);
    // The first look is what the write was settled on.
    if (!this.records.has(point)) this.records.set(point, read);
  }

  match(read: ReadMatch): void {
    const point = keyPoint(read.type, read.field, read.mode, read.key);
    if (!this.matches.has(point)) this.matches.set(point, read);
  }
}

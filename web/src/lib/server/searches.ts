/** What is asked of other records, put together: one search for each field and mode, one query for each record type. */
import type { RecordQuery } from '@rigid-rule/core/records';

/** The value that a question searches by; an empty text for one by id. */
export const soughtValue = (ask: RecordQuery): string =>
  ask.kind === 'match' ? ask.value : ask.kind === 'children' ? ask.id : '';

export interface Search {
  readonly type: string;
  readonly field: string;
  readonly mode: string;
  /** Which of the questions. */
  readonly asks: number[];
}

export function groupsOf(asks: readonly RecordQuery[]): {
  readonly searches: readonly Search[];
  readonly records: ReadonlyMap<string, readonly number[]>;
} {
  const searches = new Map<string, Search>();
  const records = new Map<string, number[]>();
  asks.forEach((ask, i) => {
    const type = ask.recordType;
    if (ask.kind === 'record') {
      const own = records.get(type) ?? [];
      records.set(type, own);
      own.push(i);
      return;
    }
    const mode = ask.kind === 'match' ? ask.mode : 'exact';
    const key = `${type}\0${ask.field}\0${mode}`;
    const search = searches.get(key) ?? { type, field: ask.field, mode, asks: [] };
    searches.set(key, search);
    search.asks.push(i);
  });
  return { searches: [...searches.values()], records };
}

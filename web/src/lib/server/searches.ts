/** By what rules find other records, and what is asked of these, put together: one search for each field and mode. */
import { onceEach } from '@rigid-rule/core/values';
import { searchesInSteps, type SearchIndex } from '@rigid-rule/core/compile';
import type { Rulebook } from '@rigid-rule/core/document';
import type { RecordQuery } from '@rigid-rule/core/records';
import { inSteps } from './in-steps.ts';

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

/** What the rules of a rulebook search by. */
export const searchesOf = onceEach((rulebook: Rulebook): Promise<readonly SearchIndex[]> =>
  inSteps(searchesInSteps(rulebook)),
);

export const searchName = ({ recordType, field, mode }: SearchIndex): string => `${recordType}\0${field}\0${mode}`;

/** The same by name. */
export const searchNames = onceEach(
  async (rulebook: Rulebook): Promise<ReadonlySet<string>> => new Set((await searchesOf(rulebook)).map(searchName)),
);

import type { Field, RecordType, Rulebook } from '@rigid-rule/core/document';
import { fieldTypeOf } from '@rigid-rule/core/language';
import { readFilters } from '../list-filters.ts';
import { listRecords, type ListRequest } from './db/record-lists.ts';
import { titlesFor } from './titles.ts';

export const windowSize = 200;
/** No list is longer. */
const furthest = 1_000_000_000;
const defaultColumns = 8;

/** The columns asked for, or the first ones. */
export function columnsOf(type: RecordType, asked: string | null): Field[] {
  const keys = asked?.split(',').filter(Boolean) ?? [];
  const chosen = type.fields.filter((f) => keys.includes(f.key));
  return chosen.length > 0 ? chosen : type.fields.filter((f) => !fieldTypeOf(f).links).slice(0, defaultColumns);
}

/** A list request from an address: `?q=…&sort=…&desc=1&only.size_class=micro,small&cols=…`. */
export function readListRequest(type: RecordType, url: URL, zone: string): ListRequest {
  const p = url.searchParams;
  const offset = Math.min(furthest, Math.max(0, Math.trunc(Number(p.get('offset') ?? 0)) || 0));
  return {
    search: (p.get('q') ?? '').slice(0, 200),
    filters: readFilters(type, p),
    zone,
    sort: p.get('sort') ?? type.title[0]!,
    descending: p.get('desc') === '1',
    offset,
    limit: windowSize,
  };
}

export async function listWindow(rulebook: Rulebook, type: RecordType, url: URL) {
  const columns = columnsOf(type, url.searchParams.get('cols'));
  const page = await listRecords(type, readListRequest(type, url, rulebook.zone), rulebook.recordTypes);
  const wanted = [...columns.map((c) => c.key), ...type.title];
  const rows = page.rows.map(({ id, data }) => ({
    id,
    data: Object.fromEntries(wanted.map((k) => [k, data[k] ?? null])),
  }));
  return {
    total: page.total,
    offset: page.offset,
    rows,
    titles: await titlesFor(
      rulebook,
      columns,
      rows.map((r) => r.data),
    ),
  };
}

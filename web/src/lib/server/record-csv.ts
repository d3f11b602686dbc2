/** A list of records as lines of a file: what is listed, in its order, with the names of options and linked records. */
import type { Field, RecordType, Rulebook, Stored } from '@rigid-rule/core/document';
import { plainWriting, writtenValue } from '@rigid-rule/core/language';
import { streamRecords } from './db/record-lists.ts';
import { columnsOf, readListRequest } from './record-list.ts';
import { titlesFor, type TitleMap } from './titles.ts';

/** Neutral forms, to be read again: ISO 8601, a point in numbers and no groups. Names for what refers. */
function cellOf(field: Field, stored: Stored, titles: TitleMap): string {
  if (stored === null) return '';
  if (typeof stored === 'number') return String(stored);
  const named = typeof stored === 'string' ? titles[field.recordType ?? field.type]?.[stored] : undefined;
  return named ?? writtenValue(field, stored, plainWriting);
}

export interface ListAsLines {
  readonly head: readonly string[];
  readonly pieces: AsyncGenerator<readonly (readonly string[])[]>;
}

export function recordLines(rulebook: Rulebook, type: RecordType, url: URL): ListAsLines {
  const columns = columnsOf(type, url.searchParams.get('cols'));
  async function* pieces(): ListAsLines['pieces'] {
    for await (const rows of streamRecords(type, readListRequest(type, url, rulebook.zone), rulebook.recordTypes)) {
      const records = rows.map((r) => r.data);
      const titles = await titlesFor(rulebook, columns, records);
      yield records.map((data) => columns.map((c) => cellOf(c, data[c.key] ?? null, titles)));
    }
  }
  return { head: columns.map((c) => c.name), pieces: pieces() };
}

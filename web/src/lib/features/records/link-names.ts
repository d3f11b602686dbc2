/** What linked records are called: some the page brought along, the others are asked for. */
import type { RecordType, Stored } from '@rigid-rule/core/document';
import { linkedType, recordTitle } from '@rigid-rule/core/language';
import type { RecordQuery } from '@rigid-rule/core/records';
import type { Titles } from '$lib/features/fields';
import type { RecordServer } from './record-server.ts';

type LinkQuery = Extract<RecordQuery, { kind: 'record' }>;

/** The records that fields link to and that nothing names yet. `idsIn`: what stands in a field, or may come to. */
export const unnamedLinks = (
  { fields }: RecordType,
  idsIn: (field: string) => readonly (Stored | undefined)[],
  ...named: readonly Titles[]
): readonly LinkQuery[] =>
  fields.flatMap((f): LinkQuery[] => {
    const recordType = linkedType(f);
    if (!recordType) return [];
    return idsIn(f.key).flatMap((id): LinkQuery[] =>
      typeof id === 'string' && named.every((n) => n[recordType]?.[id] === undefined)
        ? [{ kind: 'record', recordType, id }]
        : [],
    );
  });

/** The names of records, by type and id; a record that is gone is called by its id. @throws where the server is away. */
export async function namesOf(
  links: readonly LinkQuery[],
  recordTypes: readonly RecordType[],
  server: Pick<RecordServer, 'related'>,
  release: number | null,
): Promise<Titles> {
  const found = await server.related(links, release);
  const names: Record<string, Record<string, string>> = {};
  links.forEach(({ recordType, id }, i) => {
    const type = recordTypes.find((t) => t.key === recordType);
    const title = type && recordTitle(type, found[i]?.[0]?.data ?? {});
    (names[recordType] ??= {})[id] = title || id;
  });
  return names;
}

/** Two sets of names as one. */
export const joined = (a: Titles, b: Titles): Titles => ({
  ...a,
  ...Object.fromEntries(Object.entries(b).map(([type, names]) => [type, { ...a[type], ...names }])),
});

import type { Field, RecordData, RecordType, Rulebook } from '@rigid-rule/core';
import { findTitles } from './db/records.ts';
import { listUsers } from './db/users.ts';

type TitleMap = Record<string, Record<string, string>>;

/** Names of everything that the given records refer to: linked records by type, and users. One query a type. */
export async function titlesFor(
  rulebook: Rulebook,
  fields: readonly Field[],
  records: readonly RecordData[],
): Promise<TitleMap> {
  const titles: TitleMap = {};
  const lookups = fields.filter((f) => f.recordType !== undefined);
  for (const key of new Set(lookups.map((f) => f.recordType!))) {
    const type: RecordType | undefined = rulebook.recordTypes.find((t) => t.key === key);
    if (!type) continue;
    const ids = lookups.filter((f) => f.recordType === key).flatMap((f) => records.map((r) => r[f.key]));
    titles[key] = await findTitles(type, [...new Set(ids.filter((id): id is string => typeof id === 'string'))]);
  }
  if (fields.some((f) => f.type === 'user'))
    titles['user'] = Object.fromEntries((await listUsers()).map((u) => [u.email, u.name]));
  return titles;
}

import type { Field, RecordData, RecordType, Rulebook } from '@rigid-rule/core/document';
import { fieldTypeOf } from '@rigid-rule/core/language';
import { findTitles } from './db/records.ts';
import { listUsers } from './db/users.ts';

export type TitleMap = Record<string, Record<string, string>>;

/** Names of everything that the given records refer to: linked records by type, and users. One query a type. */
export const titlesFor = (
  rulebook: Rulebook,
  fields: readonly Field[],
  records: readonly RecordData[],
): Promise<TitleMap> => linkTitles(rulebook, fields, records, []);

/** `more`: further records whose names are wanted. */
export async function linkTitles(
  rulebook: Rulebook,
  fields: readonly Field[],
  records: readonly RecordData[],
  more: readonly { readonly recordType: string; readonly id: string }[],
): Promise<TitleMap> {
  const titles: TitleMap = {};
  const lookups = fields.filter((f) => f.recordType !== undefined);
  for (const key of new Set([...lookups.map((f) => f.recordType!), ...more.map((m) => m.recordType)])) {
    const type: RecordType | undefined = rulebook.recordTypes.find((t) => t.key === key);
    if (!type) continue;
    const ids = [
      ...lookups.filter((f) => f.recordType === key).flatMap((f) => records.map((r) => r[f.key])),
      ...more.flatMap((m) => (m.recordType === key ? [m.id] : [])),
    ];
    titles[key] = await findTitles(type, [...new Set(ids.filter((id): id is string => typeof id === 'string'))]);
  }
  if (fields.some((f) => fieldTypeOf(f).users))
    titles['user'] = Object.fromEntries((await listUsers()).map((u) => [u.email, u.name]));
  return titles;
}

/**
 * What only the database knows of a settled record: that the records and users that it names are there, and that nobody
 * else has its unique values. Asked in the write's own SERIALIZABLE transaction, so two writes at once cannot both pass.
 */
import type { Change, Field, Message, RecordType } from '@rigid-rule/core';
import { findByKeys } from '../db/match-keys.ts';
import type { Queryable } from '../db/pool.ts';
import { findRecords } from '../db/records.ts';
import { areUsers } from '../db/users.ts';

/** What stands against storing these changes, each on its field; nothing where all is well. */
export async function refusals(
  recordType: RecordType,
  id: number,
  changes: readonly Change[],
  rulebook: { readonly recordTypes: readonly RecordType[] },
  client: Queryable,
): Promise<Message[]> {
  const messages: Message[] = [];
  for (const { field: key, to, author } of changes) {
    const field = recordType.fields.find((f) => f.key === key);
    if (!field || typeof to === 'object' || to === '') continue;
    const text = await refusal(recordType, field, id, to, rulebook, client);
    const rule = author.by === 'rule' ? { rule: author.rule } : {};
    if (text !== undefined) messages.push({ severity: 'stop', field: key, text, ...rule });
  }
  return messages;
}

async function refusal(
  recordType: RecordType,
  field: Field,
  id: number,
  value: string | number | boolean,
  { recordTypes }: { readonly recordTypes: readonly RecordType[] },
  client: Queryable,
): Promise<string | undefined> {
  if (field.type === 'lookup') {
    const type = recordTypes.find((t) => t.key === field.recordType);
    const found =
      /^\d{1,15}$/.test(String(value)) && (await findRecords(field.recordType ?? '', [Number(value)], client));
    if (!found || found.length === 0) return `There is no ${type?.name.toLowerCase() ?? 'record'} ${String(value)}.`;
  }
  if (field.type === 'user' && !(await areUsers([String(value)], client))) return `There is no user ${String(value)}.`;
  if (!field.unique) return undefined;
  const [ids = []] = await findByKeys(recordType.key, field.key, 'exact', [String(value)], client);
  const other = ids.find((other) => other !== id);
  return other === undefined
    ? undefined
    : `${recordType.name} ${other} has this ${field.name} already; it has to be the only one.`;
}

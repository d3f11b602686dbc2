/**
 * The links, users and unique values of a settled record, asked in the write's own SERIALIZABLE transaction, so that two
 * writes at once cannot both pass.
 */
import { integrityOf, settleAnswered, usersNamed, type Change, type Message, type RecordType } from '@rigid-rule/core';
import type { Queryable } from '../db/pool.ts';
import { knownUsers } from '../db/users.ts';
import { DatabaseWorld } from '../related.ts';

/** What stands against storing these changes, each on its field; nothing where all is well. */
export async function refusals(
  recordType: RecordType,
  id: number,
  changes: readonly Change[],
  { recordTypes }: { readonly recordTypes: readonly RecordType[] },
  client: Queryable,
): Promise<readonly Message[]> {
  const named = usersNamed(recordType, changes);
  const known = named.length > 0 ? await knownUsers(named, client) : new Set<string>();
  const world = new DatabaseWorld(client);
  const around = {
    answer: world.answer.bind(world),
    isUser: (email: string) => known.has(email.toLowerCase()),
  };
  const put: Parameters<typeof settleAnswered>[1] = (ask, found) => {
    world.put(ask, found);
  };
  const work = () => integrityOf(recordType, String(id), changes, recordTypes, around);
  return (await settleAnswered(work, put, world.read))?.messages ?? [];
}

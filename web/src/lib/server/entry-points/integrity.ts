/**
 * The links, users and unique values of a settled record. What is asked belongs to what the write was settled on: of two
 * writes at once that ask for and give the same value one is settled again.
 */
import type { RecordType } from '@rigid-rule/core/document';
import { integrityOf, settleAnswered, usersNamed } from '@rigid-rule/core/related';
import type { Change, Message } from '@rigid-rule/core/settle';
import type { Queryable } from '../db/pool.ts';
import { knownUsers } from '../db/users.ts';
import type { DatabaseSource } from '../related.ts';

/** What stands against storing these changes, each on its field; nothing where all is well. */
export async function refusals(
  recordType: RecordType,
  id: number,
  changes: readonly Change[],
  { recordTypes }: { readonly recordTypes: readonly RecordType[] },
  world: DatabaseSource,
  client: Queryable,
): Promise<readonly Message[]> {
  const named = usersNamed(recordType, changes);
  const known = named.length > 0 ? await knownUsers(named, client) : new Set<string>();
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

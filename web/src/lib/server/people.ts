/** Who may sign in: the first administrator, people who are added later, and their passwords. */
import { string } from 'yup';
import { hashPassword, passwordMatches } from './auth/password.ts';
import type { Role } from './auth/roles.ts';
import { insertAudit } from './db/audit.ts';
import { deleteOtherSessions, type SessionUser } from './db/sessions.ts';
import { underLock } from './db/transaction.ts';
import { findUserByEmail, hasUsers, insertUser, updatePassword } from './db/users.ts';

export const newPassword = string()
  .min(12, 'A password takes at least 12 characters.')
  .max(1000)
  .required('Fill in a new password.');

export interface NewPerson {
  readonly email: string;
  readonly name: string;
  readonly role: Role;
  readonly password: string;
}

/** Any constant will do; people are added one after the other. */
const peopleLock = 4650_0003;

async function insertPerson(
  { password, ...person }: NewPerson,
  by: number | null,
  unless: (on: Parameters<typeof insertUser>[1]) => Promise<boolean>,
): Promise<number | undefined> {
  const passwordHash = await hashPassword(password);
  return underLock(async (client) => {
    await client.query('select pg_advisory_xact_lock($1)', [peopleLock]);
    if (await unless(client)) return undefined;
    const id = await insertUser({ ...person, passwordHash }, client);
    await insertAudit('added a person', by ?? id, { email: person.email, role: person.role }, client);
    return id;
  });
}

/** False where the email has somebody already. `by`: who adds them; null: by command. */
export async function addPerson(person: NewPerson, by: number | null): Promise<boolean> {
  const isKnown = async (on: Parameters<typeof insertUser>[1]) =>
    (await findUserByEmail(person.email, on)) !== undefined;
  return (await insertPerson(person, by, isKnown)) !== undefined;
}

/** The first person of an installation: an author, who adds the others. Undefined where there is somebody already. */
export const addFirst = (person: Omit<NewPerson, 'role'>): Promise<number | undefined> =>
  insertPerson({ ...person, role: 'author' }, null, hasUsers);

/** False where `current` is not their password. Their other sessions end with the old one. */
export async function changePassword(
  user: SessionUser,
  { current, next }: { readonly current: string; readonly next: string },
): Promise<boolean> {
  const found = await findUserByEmail(user.email);
  if (!(await passwordMatches(found?.passwordHash, current))) return false;
  await updatePassword(user.id, await hashPassword(next));
  await deleteOtherSessions(user.id, user.sessionId);
  await insertAudit('changed the password', user.id, {});
  return true;
}

import type { Role } from '../auth/roles.ts';
import { db, type Queryable } from './pool.ts';

export interface User {
  readonly id: number;
  readonly email: string;
  readonly name: string;
  readonly role: Role;
}

export async function findUserByEmail(
  email: string,
  on: Queryable = db(),
): Promise<(User & { passwordHash: string }) | undefined> {
  const { rows } = await on.query<User & { passwordHash: string }>(
    `select id, email, name, role, password_hash as "passwordHash" from users where email = $1`,
    [email.toLowerCase()],
  );
  return rows[0];
}

export async function hasUsers(on: Queryable = db()): Promise<boolean> {
  const { rowCount } = await on.query('select from users limit 1');
  return rowCount === 1;
}

export async function insertUser(
  user: Omit<User, 'id'> & { passwordHash: string },
  on: Queryable = db(),
): Promise<number> {
  const { rows } = await on.query<{ id: number }>(
    `insert into users (email, name, role, password_hash) values ($1, $2, $3, $4) returning id`,
    [user.email.toLowerCase(), user.name, user.role, user.passwordHash],
  );
  return rows[0]!.id;
}

export async function updatePassword(id: number, passwordHash: string): Promise<void> {
  await db().query('update users set password_hash = $2 where id = $1', [id, passwordHash]);
}

/** Those of the emails that are a user's, in small letters. */
export async function knownUsers(emails: readonly string[], on: Queryable = db()): Promise<ReadonlySet<string>> {
  const wanted = [...new Set(emails.map((e) => e.toLowerCase()))];
  const { rows } = await on.query<{ email: string }>('select email from users where email = any($1)', [wanted]);
  return new Set(rows.map((r) => r.email));
}

export async function listUsers(): Promise<User[]> {
  const { rows } = await db().query<User>(`select id, email, name, role from users order by name`);
  return rows;
}

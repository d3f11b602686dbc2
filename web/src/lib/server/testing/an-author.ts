import { hashPassword } from '../auth/password.ts';
import { insertUser } from '../db/users.ts';

/** What somebody signs in with. */
export const author = { email: 'a@b.example', password: 'right' } as const;

/** A hash takes as long as it does on purpose: one serves all tests. */
let passwordHash: Promise<string> | undefined;

/** Id of a new author. */
export async function anAuthor(): Promise<number> {
  passwordHash ??= hashPassword(author.password);
  return insertUser({ email: author.email, name: 'A', role: 'author', passwordHash: await passwordHash });
}

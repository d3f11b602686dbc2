import { countFailures, deleteFailures, insertFailures } from '../db/sign-in-failures.ts';
import { findUserByEmail, type User } from '../db/users.ts';
import { passwordMatches } from './password.ts';

/** Failures within 15 minutes after which nobody is let in: for one address, and from one place. */
const limits = { email: 8, place: 40 } as const;

export type SignIn = { readonly user: User } | { readonly problem: string };

export async function signIn(email: string, password: string, place: string): Promise<SignIn> {
  const [byEmail, byPlace] = [`email:${email.toLowerCase()}`, `place:${place}`];
  if ((await countFailures(byEmail)) >= limits.email || (await countFailures(byPlace)) >= limits.place)
    return { problem: 'Too many sign-ins have failed. Try again in 15 minutes.' };
  const found = await findUserByEmail(email);
  if (!(await passwordMatches(found?.passwordHash, password))) {
    await insertFailures([byEmail, byPlace]);
    return { problem: 'This email and password do not belong together.' };
  }
  await deleteFailures(byEmail);
  const { passwordHash: _, ...user } = found!;
  return { user };
}

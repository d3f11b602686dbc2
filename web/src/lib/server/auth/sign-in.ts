/**
 * Signing in. Attempts are counted before the password is looked at, by who it is for and where it comes from, and the
 * wait grows; from a place where somebody signed in before, guesses that are made elsewhere change nothing.
 */
import {
  deleteFailures,
  isKnownPlace,
  rememberPlace,
  reserveAttempt,
  takeBackAttempt,
  type AttemptLimit,
} from '../db/sign-in-failures.ts';
import { findUserByEmail, type User } from '../db/users.ts';
import { passwordMatches } from './password.ts';

export type SignIn = { readonly user: User } | { readonly problem: string };

/** Seconds. Whoever mistypes at their own desk waits a little; guesses from anywhere soon wait long. */
const short = 30;
const long = 900;

function limitsOf(email: string, place: string, known: boolean): readonly AttemptLimit[] {
  const pair = { subject: `pair:${email}:${place}`, free: 8, longest: known ? short : long };
  if (known) return [pair];
  return [
    pair,
    { subject: `email:${email}`, free: 20, longest: long },
    { subject: `place:${place}`, free: 40, longest: long },
  ];
}

const inWords = (seconds: number): string => {
  const minutes = Math.ceil(seconds / 60);
  if (seconds <= 90) return `${seconds} second${seconds === 1 ? '' : 's'}`;
  return `${minutes} minutes`;
};

/** @throws {UnavailableError} while too many passwords are being looked at. */
export async function signIn(given: string, password: string, place: string): Promise<SignIn> {
  const email = given.trim().toLowerCase();
  const limits = limitsOf(email, place, await isKnownPlace(email, place));
  const attempt = await reserveAttempt(limits);
  if ('wait' in attempt) return { problem: `Too many sign-ins have failed. Try again in ${inWords(attempt.wait)}.` };
  const found = await findUserByEmail(email);
  let matches: boolean;
  try {
    matches = await passwordMatches(found?.passwordHash, password);
  } catch (e) {
    // It was not looked at: it does not count.
    await takeBackAttempt(attempt.reserved);
    throw e;
  }
  if (!matches) return { problem: 'This email and password do not belong together.' };
  await takeBackAttempt(attempt.reserved);
  await deleteFailures(limits[0]!.subject);
  await rememberPlace(found!.id, place);
  const { passwordHash: _, ...user } = found!;
  return { user };
}

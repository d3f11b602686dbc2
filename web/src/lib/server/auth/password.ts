import { hash, verify } from '@node-rs/argon2';
import pLimit from 'p-limit';
import { UnavailableError } from '../db/unavailable.ts';

/** argon2id with the parameters of RFC 9106's second recommended option (64 MiB, 3 passes, 4 lanes). */
const parameters = { memoryCost: 65_536, timeCost: 3, parallelism: 4 };

export function hashPassword(password: string): Promise<string> {
  return hash(password, parameters);
}

/** A hash of no password: verifying against it costs what a real one costs, so that unknown addresses take as long. */
let nobody: Promise<string> | undefined;

/** Each takes 64 MiB and all lanes: two at a time, and a short queue, leave the rest of the application its time. */
const hashing = pLimit(2);
const longestQueue = 16;

/** @throws {UnavailableError} where too many wait already. */
export async function passwordMatches(stored: string | undefined, password: string): Promise<boolean> {
  if (hashing.pendingCount >= longestQueue)
    throw new UnavailableError('Many people are signing in just now. Try again in a few seconds.', 2);
  nobody ??= hashPassword('nobody has this password');
  const against = stored ?? (await nobody);
  const matches = await hashing(() => verify(against, password));
  return matches && stored !== undefined;
}

import { hash, verify } from '@node-rs/argon2';

/** argon2id with the parameters of RFC 9106's second recommended option (64 MiB, 3 passes, 4 lanes). */
const parameters = { memoryCost: 65_536, timeCost: 3, parallelism: 4 };

export function hashPassword(password: string): Promise<string> {
  return hash(password, parameters);
}

/** A hash of no password: verifying against it costs what a real one costs, so that unknown addresses take as long. */
let nobody: Promise<string> | undefined;

export async function passwordMatches(stored: string | undefined, password: string): Promise<boolean> {
  nobody ??= hashPassword('nobody has this password');
  const matches = await verify(stored ?? (await nobody), password);
  return matches && stored !== undefined;
}

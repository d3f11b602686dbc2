/**
 * The way in to an installation that nobody can sign in to yet: an address with a token that is told where the
 * application was started, good until there is somebody.
 */
import { timingSafeEqual } from 'node:crypto';
import { createSecret, digestOf } from './secret.ts';

let expected: Buffer | undefined;

/** Path of the page that makes the first person. A new one makes the former void. */
export function openSetup(): string {
  const { secret, digest } = createSecret();
  expected = digest;
  return `/setup?token=${secret}`;
}

export const isSetupToken = (token: string): boolean =>
  expected !== undefined && timingSafeEqual(digestOf(token), expected);

export function closeSetup(): void {
  expected = undefined;
}

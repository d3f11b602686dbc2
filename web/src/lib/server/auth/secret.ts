import { hash, randomBytes } from 'node:crypto';

/** A random secret of 256 bits as URL-safe text; only its SHA-256 is stored. */
export function createSecret(prefix = ''): { secret: string; digest: Buffer } {
  const secret = prefix + randomBytes(32).toString('base64url');
  return { secret, digest: digestOf(secret) };
}

export function digestOf(secret: string): Buffer {
  return hash('sha256', secret, 'buffer');
}

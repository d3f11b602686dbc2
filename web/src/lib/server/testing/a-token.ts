import { createSecret } from '../auth/secret.ts';
import { insertToken, useToken } from '../db/tokens.ts';

/** Id of a token that may write, of somebody's. */
export async function aToken(userId: number): Promise<number> {
  const { digest } = createSecret();
  await insertToken(digest, { name: 'a program', mayWrite: true, days: 1 }, userId);
  return (await useToken(digest))!.id;
}

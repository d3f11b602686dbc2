/** Which write a key of a sender stands for. */
import { digestOf } from '../auth/secret.ts';
import type { WriteKey } from '../db/write-keys.ts';
import type { WriteRequest } from './settling.ts';

/** `given`: the key as the sender chose it; nobody else's key is the same. */
export function withWriteKey(request: WriteRequest, given: string): WriteRequest {
  // Who somebody is may change between two sendings of the same.
  const { by, user: _, ...sent } = request;
  const key: WriteKey = {
    key: digestOf(JSON.stringify([by, given])).toString('hex'),
    request: digestOf(JSON.stringify(sent)).toString('hex'),
  };
  return { ...request, key };
}

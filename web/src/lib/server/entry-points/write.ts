/** A write on a live record, in a transaction of its own; the records that depend on it follow. */
import { serializable } from '../db/transaction.ts';
import { runDependants } from './dependants.ts';
import { writeIn, type WriteRequest, type WriteResult } from './write-in.ts';

export async function writeRecord(request: WriteRequest): Promise<WriteResult> {
  const result = await serializable((client) => writeIn(client, request));
  if (result.outcome === 'saved') void runDependants();
  return result;
}

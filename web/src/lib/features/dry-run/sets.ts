/** Sample sets as the page knows them, and what is done to them. */
import { askPatiently } from '$lib/network.ts';
import { loadLines } from '$lib/sample-lines.ts';
import type { RecordType } from '@rigid-rule/core/document';
import { recordTitle } from '@rigid-rule/core/language';
import { PackedRecords } from '@rigid-rule/core/records';

export interface SampleSetInfo {
  readonly id: number;
  readonly name: string;
  readonly source: string;
  readonly madeBy: string | null;
  readonly madeAt: string | Date;
  readonly records: Readonly<Record<string, number>>;
  readonly columns: Readonly<Record<string, Readonly<Record<string, string>>>>;
}

export interface NewSample {
  readonly id: number;
  readonly data: Readonly<Record<string, unknown>>;
}

/** Records sent at once. */
const heap = 2000;

async function send(method: string, path: string, body: object): Promise<Record<string, unknown>> {
  // Hundreds of thousands of records may be made up, or copied, before it is answered.
  const answer = await askPatiently(path, {
    method,
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  });
  const text = await answer.text();
  const said = (text === '' ? {} : JSON.parse(text)) as Record<string, unknown>;
  if (!answer.ok) throw new Error(String(said['message'] ?? said['detail'] ?? 'That could not be done.'));
  return said;
}

/** An empty set. @throws in words, where the name is taken. */
export async function makeSet(name: string, source: 'imported' | 'generated'): Promise<number> {
  return Number((await send('POST', '/api/sample-sets', { name, source }))['id']);
}

export const removeSet = (id: number): Promise<unknown> => send('DELETE', `/api/sample-sets/${id}`, {});

export const copyLive = (asked: {
  readonly name: string;
  readonly types: readonly string[];
  readonly most: number;
  readonly masked: boolean;
}): Promise<unknown> => send('POST', '/api/sample-sets/from-live', asked);

/** Records into a set, heap by heap. Gives how many values were left out, being none of their field. */
export async function fillSet(
  set: number,
  type: string,
  records: readonly NewSample[],
  columns: Readonly<Record<string, string>> | undefined,
  told: (done: number) => void,
): Promise<number> {
  let left = 0;
  for (let at = 0; at < records.length; at += heap) {
    const body = { type, records: records.slice(at, at + heap), ...(columns && at === 0 ? { columns } : {}) };
    left += Number((await send('POST', `/api/sample-sets/${set}/fill`, body))['left']);
    told(Math.min(records.length, at + heap));
  }
  return left;
}

/** Ids of all records of a type in a set by their titles, in small letters; of the first where several are called so. */
export async function idsByTitle(set: number | undefined, type: RecordType): Promise<ReadonlyMap<string, string>> {
  const packed = new PackedRecords();
  await loadLines(type.key, set, (bytes) => packed.take(type.key, bytes));
  const ids = new Map<string, string>();
  for (let i = 0; i < packed.count(type.key); i++) {
    const { id, data } = packed.at(type.key, i);
    const title = recordTitle(type, data).toLowerCase();
    if (!ids.has(title)) ids.set(title, id);
  }
  return ids;
}

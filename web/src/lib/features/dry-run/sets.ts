/** Sample sets as the page knows them, and what is done to them. */
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
  const answer = await fetch(path, {
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

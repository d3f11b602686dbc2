/** What the browser asks of the server about one set of samples. */
import { ask, whyNot } from '$lib/network.ts';
import type { HeldValues } from '@rigid-rule/core/compile';
import type { RecordData } from '@rigid-rule/core/document';
import type { FoundRecord, RecordQuery } from '@rigid-rule/core/records';
import type { FoundLink } from '$lib/features/fields';
import { askInChunks, mostQuestions } from '$lib/question-limits.ts';

export interface SampleRecord {
  readonly id: number;
  readonly data: RecordData;
}

export interface SamplePage {
  /** Samples of the type in all: said with the first page. */
  readonly total?: number;
  readonly samples: readonly SampleRecord[];
}

/** All reject where the server cannot be reached or refuses. */
export interface SampleServer {
  page(recordType: string, from: number, most: number): Promise<SamplePage>;
  /** In the order of the questions, at most 200. */
  answers(asks: readonly RecordQuery[]): Promise<readonly (readonly FoundRecord[])[]>;
  values(recordType: string, fields: readonly string[]): Promise<readonly HeldValues[]>;
  find(recordType: string, text: string): Promise<readonly FoundLink[]>;
}

/** `set`: its id; undefined: the oldest. */
export function httpSamples(set: number | undefined): SampleServer {
  const own: readonly (readonly [string, string])[] = set === undefined ? [] : [['set', String(set)]];
  /** A record type that was made a moment ago may not be with the server yet: it has no samples. */
  async function get<T>(path: string, asked: readonly (readonly [string, string])[], none: T): Promise<T> {
    const query = new URLSearchParams([...own, ...asked].map(([k, v]) => [k, v]));
    const answer = await ask(`/api/samples/${path}?${query.toString()}`);
    if (answer.status === 404) return none;
    if (!answer.ok) throw await whyNot(answer, 'The sample records could not be loaded.');
    return (await answer.json()) as T;
  }
  return {
    page: (recordType, from, most) =>
      get(
        recordType,
        [
          ['from', String(from)],
          ['most', String(most)],
        ],
        { total: 0, samples: [] },
      ),
    answers: (asks) =>
      askInChunks(asks, mostQuestions, async (chunk) => {
        const answer = await ask('/api/sample-answers', {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify({ asks: chunk, set }),
        });
        if (!answer.ok) throw await whyNot(answer, 'What the rules ask of sample records could not be read.');
        return ((await answer.json()) as { answers: readonly (readonly FoundRecord[])[] }).answers;
      }),
    async values(recordType, fields) {
      const asked = fields.map((f) => ['field', f] as const);
      const none: { readonly values: readonly HeldValues[] } = { values: [] };
      return (await get(`${recordType}/values`, asked, none)).values;
    },
    find: (recordType, text) => get(`${recordType}/find`, [['q', text]], []),
  };
}

/** Says nothing, ever: while a page is put together on the server. */
const never = (): Promise<never> => new Promise(() => undefined);
export const noSamples: SampleServer = { page: never, answers: never, values: never, find: never };

/** What a form asks of the server: answers about other records, and to be saved. */
import { ask, whyNot } from '$lib/network.ts';
import type { TraceEntry } from '@rigid-rule/core/compile';
import type { RecordData } from '@rigid-rule/core/document';
import type { FoundRecord, FoundRows, RecordQuery, RowsQuery } from '@rigid-rule/core/records';
import type { Difference, Effect, Seen } from '@rigid-rule/core/related';
import type { Change, Settlement } from '@rigid-rule/core/settle';
import type { Titles } from '$lib/features/fields';
import { askInChunks, mostQuestions, mostRowQuestions } from '$lib/question-limits.ts';
import type { FormRules } from './form-rules.ts';

export interface Stores {
  readonly id: number;
  readonly data: RecordData;
  readonly held: readonly string[];
  readonly version: number;
}

/** What a person made of a record, to be saved or looked at. */
export interface SaveContent {
  readonly id?: number;
  readonly version?: number;
  readonly form: string;
  readonly sent: Readonly<Record<string, unknown>>;
  readonly typed: readonly string[];
  readonly woken: readonly string[];
  readonly handBack: readonly string[];
}

export interface SaveRequest extends SaveContent {
  readonly seen: Seen & { readonly fields: readonly string[] };
  /** UUID: what is sent a second time with it is not done a second time. */
  readonly key: string;
}

/** The server answered, and did nothing of what was sent now. */
export class NotTakenError extends Error {
  /** Nor would it ever: what was sent is at fault, and not who sent it or how often. */
  readonly isFinal: boolean;

  constructor(message: string, isFinal: boolean) {
    super(message);
    this.isFinal = isFinal;
  }
}

/** Of the statuses of RFC 9110 those that are about what was sent. */
const aboutContent: readonly number[] = [400, 404, 413, 415, 422];

export interface SavedAnswer {
  readonly outcome: 'saved';
  readonly id: number;
  readonly version: number;
  readonly settlement: Settlement;
}

export type SaveAnswer =
  | SavedAnswer
  | { readonly outcome: 'stopped'; readonly settlement: Settlement }
  | {
      readonly outcome: 'differs';
      readonly release: number | null;
      readonly settlement: Settlement;
      readonly differences: readonly Difference[];
      readonly effects: readonly Effect[];
    }
  | { readonly outcome: 'changed meanwhile'; readonly record: Stores }
  | { readonly outcome: 'no record' | 'no type' | 'no entry point' | 'key used' };

/** What saving would do to other records, with the names of those. */
export interface Elsewhere {
  readonly effects: readonly Effect[];
  readonly dependants: readonly { readonly recordType: string; readonly count: number }[];
  readonly titles: Titles;
}

/** The last write that gave a field its value. */
export interface FieldAuthor {
  readonly field: string;
  readonly writeId: number;
  readonly at: Date;
  readonly by: string | null;
  readonly entryPoint: string;
  readonly release: number | null;
  readonly author: Change['author'];
}

/** What the rules did in one write, as it was kept. */
export interface KeptTrace {
  readonly changes: readonly Change[];
  readonly trace: readonly TraceEntry[];
  readonly release: number | null;
}

export interface RecordServer {
  /** The rules that a form goes by. @throws where the server cannot be reached, or refuses. */
  rules(address: string): Promise<FormRules>;
  /** @throws where the server cannot be reached, or refuses. */
  preview(recordType: string, request: SaveContent): Promise<Elsewhere>;
  /** @throws where the server cannot be reached, or has no such write. */
  trace(recordType: string, id: number, write: number): Promise<KeptTrace>;
  /** @throws where the server cannot be reached. */
  related(asks: readonly RecordQuery[], release: number | null): Promise<readonly (readonly FoundRecord[])[]>;
  /** Rows of tables that the rules came without. @throws where the server cannot be reached. */
  rows(queries: readonly RowsQuery[], release: number | null): Promise<readonly FoundRows[]>;
  /** @throws {NotTakenError} with what the server said; anything else where it may have been taken all the same. */
  save(recordType: string, request: SaveRequest): Promise<SaveAnswer>;
}

const post = (path: string, body: unknown): Promise<Response> =>
  ask(path, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) });

export const httpServer: RecordServer = {
  async rules(address) {
    const answer = await ask(address);
    if (!answer.ok) throw await whyNot(answer, 'The rules of this form could not be read.');
    return (await answer.json()) as FormRules;
  },
  related: (asks, release) =>
    askInChunks(asks, mostQuestions, async (chunk) => {
      const answer = await post('/api/related', { asks: chunk, release });
      if (!answer.ok) throw await whyNot(answer, 'What the rules ask of other records could not be read.');
      return ((await answer.json()) as { answers: readonly (readonly FoundRecord[])[] }).answers;
    }),
  rows: (queries, release) =>
    askInChunks(queries, mostRowQuestions, async (chunk) => {
      const answer = await post('/api/table-rows', { queries: chunk, release });
      if (!answer.ok) throw await whyNot(answer, 'The rows of a table that the rules ask could not be read.');
      return ((await answer.json()) as { answers: readonly FoundRows[] }).answers;
    }),
  async preview(recordType, request) {
    const answer = await post(`/api/records/${recordType}/preview`, request);
    if (!answer.ok) throw await whyNot(answer, 'What other records would get could not be worked out.');
    return (await answer.json()) as Elsewhere;
  },
  async trace(recordType, id, write) {
    const answer = await ask(`/api/records/${recordType}/${id}/writes/${write}`);
    if (!answer.ok) throw await whyNot(answer, 'What the rules did then could not be read.');
    return (await answer.json()) as KeptTrace;
  },
  async save(recordType, request) {
    const answer = await post(`/api/records/${recordType}/save`, request);
    const said = (await answer.json()) as SaveAnswer | { readonly message: string };
    if (!('message' in said)) return said;
    throw answer.status < 500
      ? new NotTakenError(said.message, aboutContent.includes(answer.status))
      : new Error(said.message);
  },
};

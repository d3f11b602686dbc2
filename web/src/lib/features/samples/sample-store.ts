/**
 * What is at hand of one set of samples. Whoever needs something reads it: where it is not here it is asked for, and all
 * who read are told once it came. So a set of any size opens as fast, and nothing is loaded that nobody looks at.
 */
import type { HeldValues } from '@rigid-rule/core/compile';
import { AnsweredSource, queryKey, type RecordQuery, type RecordSource } from '@rigid-rule/core/records';
import type { SampleRecord, SampleServer } from './sample-server.ts';

/** Samples that come together; those before and after are fetched along. */
export const pageSize = 50;
/** Questions that go together. */
const mostAsks = 200;
/** Milliseconds until what failed is asked for once more. */
const pause = 3000;

export class SampleStore {
  private readonly server: SampleServer;
  private readonly changed: () => void;
  private readonly later: (work: () => void, milliseconds: number) => void;
  private readonly totals = new Map<string, number>();
  private readonly pages = new Map<string, readonly SampleRecord[]>();
  private readonly held = new Map<string, readonly HeldValues[]>();
  private readonly answered = new AnsweredSource();
  /** What is on its way, and what failed a moment ago. */
  private readonly underway = new Set<string>();
  private questions = new Map<string, RecordQuery>();
  /** What went wrong the last time, in words. */
  problem: string | undefined;

  /** `changed`: something that was read and was not there has come, or failed. */
  constructor(
    server: SampleServer,
    changed: () => void,
    later: (work: () => void, milliseconds: number) => void = (work, ms) => void setTimeout(work, ms),
  ) {
    this.server = server;
    this.changed = changed;
    this.later = later;
  }

  /** Samples of a type; undefined while that is not known. */
  total(recordType: string): number | undefined {
    if (!this.totals.has(recordType)) this.fetchPage(recordType, 0);
    return this.totals.get(recordType);
  }

  /** The sample at a place in the order of the set; undefined while it is not here, and where there is none. */
  at(recordType: string, index: number): SampleRecord | undefined {
    const total = this.total(recordType);
    if (total === undefined || index < 0 || index >= total) return undefined;
    const page = Math.floor(index / pageSize);
    const found = this.page(recordType, page);
    const pages = Math.ceil(total / pageSize);
    // Whoever goes on, either way and around the end, does not wait.
    if (found) for (const near of [page + 1, page + pages - 1]) this.page(recordType, near % pages);
    return found?.[index % pageSize];
  }

  /** The first samples of a type, a page of them at most; none while they are not here. */
  first(recordType: string): readonly SampleRecord[] {
    return this.page(recordType, 0) ?? [];
  }

  /** What the samples of a type hold in some fields; undefined while that is not known. */
  values(recordType: string, fields: readonly string[]): readonly HeldValues[] | undefined {
    const name = JSON.stringify(['values', recordType, ...fields]);
    if (!this.held.has(name))
      this.fetch(name, async () => this.held.set(name, await this.server.values(recordType, fields)));
    return this.held.get(name);
  }

  /** As rules read the samples. */
  readonly source: RecordSource = {
    answer: (ask) => {
      const found = this.answered.answer(ask);
      if (!found) this.ask(ask);
      return found;
    },
  };

  private page(recordType: string, page: number): readonly SampleRecord[] | undefined {
    const found = this.pages.get(`${recordType} ${page}`);
    if (!found) this.fetchPage(recordType, page);
    return found;
  }

  private fetchPage(recordType: string, page: number): void {
    const name = `${recordType} ${page}`;
    this.fetch(`page ${name}`, async () => {
      const { total, samples } = await this.server.page(recordType, page * pageSize, pageSize);
      if (total !== undefined) this.totals.set(recordType, total);
      this.pages.set(name, samples);
      for (const { id, data } of samples) {
        const record = { id: String(id), data };
        this.answered.put({ kind: 'record', recordType, id: record.id }, [record]);
      }
    });
  }

  private ask(ask: RecordQuery): void {
    const key = queryKey(ask);
    if (this.underway.has(key) || this.questions.has(key)) return;
    this.questions.set(key, ask);
    // All that one settling asks goes together.
    if (this.questions.size === 1) queueMicrotask(() => this.sendQuestions());
  }

  private sendQuestions(): void {
    const all = [...this.questions];
    this.questions = new Map();
    for (let from = 0; from < all.length; from += mostAsks) {
      const heap = all.slice(from, from + mostAsks);
      const asks = heap.map(([, ask]) => ask);
      this.fetchAll(
        heap.map(([key]) => key),
        async () => {
          const answers = await this.server.answers(asks);
          asks.forEach((ask, i) => this.answered.put(ask, answers[i] ?? []));
        },
      );
    }
  }

  private fetch(name: string, work: () => Promise<unknown>): void {
    this.fetchAll([name], work);
  }

  /** Once at a time for each name; what fails is left alone for a while. */
  private fetchAll(names: readonly string[], work: () => Promise<unknown>): void {
    if (names.every((name) => this.underway.has(name))) return;
    for (const name of names) this.underway.add(name);
    const end = () => {
      for (const name of names) this.underway.delete(name);
      this.changed();
    };
    work().then(
      () => {
        this.problem = undefined;
        end();
      },
      () => {
        this.problem = 'The sample records could not be loaded.';
        this.changed();
        this.later(end, pause);
      },
    );
  }
}

/**
 * What the rules of a form ask of other records and of tables whose rows are elsewhere, and what the server answered.
 * Answers about records are asked for again with each act, since others write meanwhile; a release never changes, so the
 * rows of its tables stay.
 */
import { AnsweredRows, AnsweredSource, queryKey, type RecordQuery, type RowsQuery } from '@rigid-rule/core/records';
import type { Settlement } from '@rigid-rule/core/settle';
import type { RecordServer } from './record-server.ts';

export interface OpenQuestions {
  readonly asks: readonly RecordQuery[];
  readonly rows: readonly RowsQuery[];
}

const each = <Q>(questions: readonly Q[]): readonly Q[] => [
  ...new Map(questions.map((q) => [JSON.stringify(q), q])).values(),
];

/** What some settlements wait for, each question once. */
export const openQuestions = (settlements: readonly Settlement[]): OpenQuestions => ({
  asks: each(settlements.flatMap((s) => s.asks)),
  rows: each(settlements.flatMap((s) => s.rowsAsked ?? [])),
});

export class Questions {
  private rows = new AnsweredRows(new Set());
  private known = new AnsweredSource(this.rows);
  /** All that was ever asked of records in this sitting. */
  private readonly asked = new Map<string, RecordQuery>();

  constructor(
    private readonly server: Pick<RecordServer, 'related' | 'rows'>,
    private readonly release: number | null,
  ) {}

  /** What is known of other records. */
  get source(): AnsweredSource {
    return this.known;
  }

  /** `elsewhere`: keys of the tables that the rules came without. */
  begin(elsewhere: readonly string[]): void {
    this.rows = new AnsweredRows(new Set(elsewhere));
    this.forget();
  }

  /** Nothing is known of other records any more. */
  forget(): void {
    this.known = new AnsweredSource(this.rows);
    this.asked.clear();
  }

  /** Has questions answered. @throws where the server cannot be reached. */
  async answer({ asks, rows }: OpenQuestions): Promise<void> {
    // What was asked before a save is no answer after it.
    const { known, rows: knownRows } = this;
    const [answers, found] = await Promise.all([
      asks.length > 0 ? this.server.related(asks, this.release) : [],
      rows.length > 0 ? this.server.rows(rows, this.release) : [],
    ]);
    asks.forEach((ask, i) => known.put(ask, answers[i] ?? []));
    rows.forEach((query, i) => knownRows.put(query, found[i] ?? []));
    for (const ask of asks) this.asked.set(queryKey(ask), ask);
  }

  /** Asks again what was ever asked of records; false where that is nothing. @throws where the server cannot be reached. */
  async askAgain(): Promise<boolean> {
    if (this.asked.size === 0) return false;
    await this.answer({ asks: [...this.asked.values()], rows: [] });
    return true;
  }
}

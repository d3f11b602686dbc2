/** A long list, of which only the rows on show and their neighbours are fetched. */
import { ask, whyNot } from '$lib/network.ts';
import type { RecordData } from '@rigid-rule/core/document';
import type { Titles } from '$lib/features/fields';

export interface Row {
  readonly id: number;
  readonly data: RecordData;
}

export interface Window {
  readonly total: number;
  readonly offset: number;
  readonly rows: readonly Row[];
  readonly titles: Titles;
}

const notLoaded = 'Some rows could not be loaded. Scroll again to try once more.';

export class WindowedList {
  readonly total: number;
  private readonly query: string;
  private readonly typeKey: string;
  private readonly size: number;
  private rows = $state.raw<ReadonlyMap<number, Row>>(new Map());
  titles = $state.raw<Titles>({});
  problem = $state<string>();
  private readonly asked = new Set<number>();

  constructor(typeKey: string, query: string, first: Window, size: number) {
    this.typeKey = typeKey;
    this.query = query;
    this.size = size;
    this.total = first.total;
    this.asked.add(0);
    this.take(first);
  }

  row(index: number): Row | undefined {
    return this.rows.get(index);
  }

  /** Makes sure that these rows come. */
  want(from: number, to: number): void {
    for (let w = Math.floor(Math.max(0, from) / this.size); w * this.size < Math.min(to, this.total); w++)
      if (!this.asked.has(w)) void this.fetch(w);
  }

  private async fetch(window: number): Promise<void> {
    this.asked.add(window);
    const query = new URLSearchParams(this.query);
    query.set('offset', String(window * this.size));
    try {
      const answer = await ask(`/api/records/${this.typeKey}/rows?${query}`);
      if (!answer.ok) return this.miss(window, (await whyNot(answer, notLoaded)).message);
      this.take((await answer.json()) as Window);
      this.problem = undefined;
    } catch {
      this.miss(window, notLoaded);
    }
  }

  private miss(window: number, problem: string): void {
    this.asked.delete(window);
    this.problem = problem;
  }

  private take(window: Window): void {
    const rows = new Map(this.rows);
    window.rows.forEach((row, i) => rows.set(window.offset + i, row));
    this.rows = rows;
    const titles: Record<string, Readonly<Record<string, string>>> = { ...this.titles };
    for (const [type, names] of Object.entries(window.titles)) titles[type] = { ...titles[type], ...names };
    this.titles = titles;
  }
}

/** The workers of dry runs: started when they are first asked, given the samples of a set, ended together. */
import { loadLines } from '$lib/sample-lines.ts';
import type { DryRunWork } from '$lib/workers/dry-run.ts';
import { untilItEnds } from '$lib/workers/worker-end.ts';
import type { Remote } from 'comlink';

export interface DryRunWorker {
  readonly worker: Worker;
  readonly work: Remote<DryRunWork>;
  readonly alive: ReturnType<typeof untilItEnds>;
}

export class DryRunWorkers {
  /** Those that were started. */
  all: readonly DryRunWorker[] = [];
  private starting: Promise<void> = Promise.resolve();
  /** What they hold, and what of it is still coming. */
  private held = { set: undefined as number | undefined, edition: 0, loading: new Map<string, Promise<void>>() };

  /** One after the other, whoever asks: a share that two workers had would count twice. */
  start(count: number): Promise<void> {
    return (this.starting = this.starting
      .catch(() => undefined)
      .then(async () => {
        while (this.all.length < count) this.all = [...this.all, await startWorker()];
      }));
  }

  /**
   * Gives them all records of these types, which they hold for as long as the set is the same.
   * @param edition another one where the same set was filled meanwhile
   * @throws in words, where they cannot be loaded.
   */
  async fill(set: number | undefined, edition: number, types: readonly string[]): Promise<void> {
    if (set !== this.held.set || edition !== this.held.edition) this.empty(set, edition);
    await Promise.all(types.map((t) => this.load(t)));
  }

  private empty(set: number | undefined, edition: number): void {
    this.held = { set, edition, loading: new Map() };
    for (const { work } of this.all) void work.forget();
  }

  private load(type: string): Promise<void> {
    const { held } = this;
    const known = held.loading.get(type);
    if (known) return known;
    const taken: Promise<Error | undefined>[] = [];
    const loading = loadLines(type, held.set, (bytes) => {
      if (held !== this.held) return;
      const piece = shared(bytes);
      for (const { work, alive } of this.all)
        taken.push(
          alive(work.take(type, piece)).then(
            () => undefined,
            (cause: unknown) => new Error('A worker could not take the samples.', { cause }),
          ),
        );
    })
      .then(async () => {
        const failure = (await Promise.all(taken)).find((e) => e !== undefined);
        if (failure) throw failure;
      })
      .catch((e: unknown) => {
        // Half a set is none: what is asked for next is loaded from the beginning.
        if (held === this.held) this.empty(held.set, held.edition);
        throw e;
      });
    held.loading.set(type, loading);
    return loading;
  }

  end(): void {
    for (const { worker } of this.all) worker.terminate();
    this.all = [];
    this.held = { set: undefined, edition: 0, loading: new Map() };
  }
}

/** Bytes that all workers read where they are; where a browser keeps that from pages, each gets a copy. */
function shared(bytes: Uint8Array): Uint8Array {
  if (!globalThis.crossOriginIsolated) return bytes;
  const piece = new Uint8Array(new SharedArrayBuffer(bytes.length));
  piece.set(bytes);
  return piece;
}

/** What talks with workers is loaded when somebody first asks: pages of records never need it. */
async function startWorker(): Promise<DryRunWorker> {
  const { wrap } = await import('comlink');
  const worker = new Worker(new URL('../../workers/dry-run.ts', import.meta.url), { type: 'module' });
  return { worker, work: wrap<DryRunWork>(worker), alive: untilItEnds(worker) };
}

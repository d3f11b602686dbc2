/** A dry run, in two workers or on the server: begun, followed, cancelled, asked for the records behind a number. */
import type { Rulebook } from '@rigid-rule/core/document';
import type { ImpactFigures, ImpactWay, Witness } from '@rigid-rule/core/rule-tests';
import type { DryRunWork, TypeImpact } from '$lib/workers/dry-run.ts';
import { tick } from 'svelte';
import { untilItEnds } from '$lib/workers/worker-end.ts';
import { useKeptRun } from './kept-run.ts';
import {
  beginLiveRun,
  behindLiveRun,
  findLiveRun,
  inWords,
  stopLiveRun,
  type Behind,
  type LiveQuestion,
  type LiveRunAnswer,
  type RecordsBehind,
} from './live-run.ts';

export type DryRunState = 'not begun' | 'running' | 'done' | 'cancelled' | 'failed';

export interface Asked {
  readonly draft: Rulebook;
  readonly against: Rulebook | 'stored';
  readonly way: ImpactWay;
  readonly set: number | undefined;
  readonly edition: number;
  readonly now: string;
  readonly types?: readonly string[];
}

/** Two share the samples: more would each hold all of them. */
const workers = 2;
/** Milliseconds between two looks at what the server has found. */
const lookAgain = 800;

export class DryRun {
  private workers: Awaited<ReturnType<typeof startWorker>>[] = [];
  private starting: Promise<void> = Promise.resolve();
  private asked = 0;
  private request: Asked | undefined;
  /** What was asked for, but for the clock: asked again, it is found as it is. */
  private question = '';
  /** What is compared, and how: kept while the areas come and go. */
  way = $state<ImpactWay>('backfill');
  /** `live`, `stored`, or the number of a release. */
  against = $state('live');
  /** Key of a rule that is switched off in what is tried. */
  without = $state('');
  /** On live records, read only, instead of samples. */
  live = $state(false);
  /** Who asked for what is shown of live records, and when. */
  asker = $state.raw<{ readonly by: string; readonly at: string }>();
  state = $state<DryRunState>('not begun');
  types = $state.raw<readonly TypeImpact[]>([]);
  done = $state(0);
  all = $state(0);
  /** Milliseconds that it took, or has taken so far. */
  spent = $state(0);
  problem = $state<string>();

  /** One after the other, whoever asks: a share that two workers had would count twice. */
  private startWorkers(count: number): Promise<void> {
    return (this.starting = this.starting
      .catch(() => undefined)
      .then(async () => {
        while (this.workers.length < count) this.workers.push(await startWorker());
      }));
  }

  /** `anew`: although the same was asked before. */
  async run(request: Asked, anew = false): Promise<void> {
    const { now: _, ...rest } = request;
    const question = JSON.stringify(rest);
    if (!anew && question === this.question && (this.state === 'running' || this.state === 'done')) return;
    this.question = question;
    const asked = ++this.asked;
    this.request = plain(request);
    const given = this.request;
    this.state = 'running';
    this.problem = undefined;
    this.types = [];
    [this.done, this.all, this.spent] = [0, 0, 0];
    const began = performance.now();
    const counts = Array.from({ length: workers }, () => [0, 0] as const) as (readonly [number, number])[];
    const heaps: (readonly TypeImpact[])[] = [];
    try {
      await this.startWorkers(workers);
      const [{ proxy }, { moving, sumOfFigures }] = await Promise.all([import('comlink'), import('./heaps.ts')]);
      const complete = await Promise.all(
        this.workers.map(({ work, alive }, share) =>
          alive(
            work.run(
              { ...given, share, of: workers },
              proxy(async (types: readonly TypeImpact[], done: number, all: number) => {
                if (asked !== this.asked) return;
                heaps[share] = types;
                counts[share] = [done, all];
                this.types = together(
                  heaps.filter((h) => h !== undefined),
                  (figures) => moving(sumOfFigures(figures)),
                );
                this.done = counts.reduce((n, [d]) => n + d, 0);
                this.all = counts.reduce((n, [, a]) => n + a, 0);
                this.spent = performance.now() - began;
                await tick();
              }),
            ),
          ),
        ),
      );
      if (asked === this.asked && complete.every((c) => c)) this.state = 'done';
    } catch {
      if (asked !== this.asked) return;
      this.state = 'failed';
      this.problem = 'The dry run failed: the samples could not be loaded, or there are too many of them.';
      // Whatever ended it: who asks again has new ones.
      this.endWorkers();
    }
  }

  /** Shows the last run on live records where it answers this question, and follows it while it goes on. */
  async follow(question: LiveQuestion): Promise<void> {
    const asked = ++this.asked;
    this.question = '';
    [this.state, this.types, this.problem, this.asker] = ['not begun', [], undefined, undefined];
    [this.done, this.all, this.spent] = [0, 0, 0];
    for (const { work } of this.workers) void work.cancel();
    try {
      for (;;) {
        const found = await findLiveRun(question);
        if (asked !== this.asked) return;
        if (!found) return;
        this.show(found);
        if (found.state !== 'running' && found.state !== 'waiting') return;
        await new Promise((resolve) => setTimeout(resolve, lookAgain));
        if (asked !== this.asked) return;
      }
    } catch (e) {
      if (asked !== this.asked) return;
      this.state = 'failed';
      this.problem = inWords(e);
    }
  }

  private show({ by, at, state, total, done, types }: LiveRunAnswer): void {
    this.asker = { by, at };
    this.types = types;
    [this.done, this.all, this.spent] = [done, total, Date.now() - Date.parse(at)];
    this.state = state === 'waiting' ? 'running' : state;
    if (state === 'failed') this.problem = 'The server could not look at the live records; the reason is in its log.';
  }

  /** Begins on live records, with the draft as it is on the server. */
  async begin(question: LiveQuestion): Promise<void> {
    try {
      await beginLiveRun(question);
    } catch (e) {
      this.state = 'failed';
      this.problem = inWords(e);
      return;
    }
    await this.follow(question);
  }

  cancel(): void {
    this.asked++;
    this.state = 'cancelled';
    if (this.live) void stopLiveRun().catch((e: unknown) => (this.problem = inWords(e)));
    for (const { work } of this.workers) void work.cancel();
  }

  /** The records of a move or of a message, the first of them, and what they have in common. */
  async behind(type: string, of: Behind, most: number): Promise<RecordsBehind> {
    if (this.live) return behindLiveRun(type, of, most);
    const found = await Promise.all(
      this.workers.map(({ work, alive }) =>
        alive(
          'message' in of ? work.stopped(type, of.message, most) : work.moved(type, of.field, of.from, of.to, most),
        ),
      ),
    );
    const records = found.flatMap((f) => f.records).sort((a, b) => Number(a.id) - Number(b.id));
    const [first] = this.workers;
    const trait =
      first && this.request
        ? await first.alive(
            first.work.trait(
              type,
              this.request.draft,
              found.flatMap((f) => f.places),
            ),
          )
        : undefined;
    return { records: records.slice(0, most), ...(trait === undefined ? {} : { trait }) };
  }

  async witnesses(live: Rulebook, draft: Rulebook): Promise<readonly Witness[]> {
    await this.startWorkers(1);
    const [{ work, alive }] = this.workers as [Awaited<ReturnType<typeof startWorker>>];
    return alive(work.witnesses(plain(live), plain(draft)));
  }

  close(): void {
    this.asked++;
    this.question = '';
    this.endWorkers();
  }

  private endWorkers(): void {
    for (const { worker } of this.workers) worker.terminate();
    this.workers = [];
  }
}

/** What talks with workers is loaded when somebody first asks: pages of records never need it. */
async function startWorker() {
  const { wrap } = await import('comlink');
  const worker = new Worker(new URL('../../workers/dry-run.ts', import.meta.url), { type: 'module' });
  return { worker, work: wrap<DryRunWork>(worker), alive: untilItEnds(worker) };
}

/** The interface may hold parts of a rulebook in ways that cannot be cloned. */
const plain = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

function together(
  heaps: readonly (readonly TypeImpact[])[],
  sum: (figures: readonly ImpactFigures[]) => ImpactFigures,
): readonly TypeImpact[] {
  const [first = []] = heaps;
  return first.map((t) => ({
    ...t,
    figures: sum(heaps.flatMap((h) => h.find((x) => x.recordType === t.recordType)?.figures ?? [])),
  }));
}

/** The run that areas share. */
export const useDryRun = (): DryRun => (useKeptRun().run ??= new DryRun());

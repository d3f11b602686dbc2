/** A dry run, in two workers or on the server: begun, followed, cancelled, asked for the records behind a number. */
import type { Rulebook } from '@rigid-rule/core/document';
import type { ImpactFigures, ImpactWay, Witness } from '@rigid-rule/core/rule-tests';
import type { TypeImpact } from '$lib/workers/dry-run.ts';
import { tick } from 'svelte';
import { DryRunWorkers, type DryRunWorker } from './dry-run-workers.ts';
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

/** What two do is added up: of more each would hold indexes of all samples. */
const workers = 2;
/** Milliseconds between two looks at what the server has found. */
const lookAgain = 800;

export class DryRun {
  private readonly workers = new DryRunWorkers();
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
      await this.workers.start(workers);
      const { set, edition, ...toRun } = given;
      await this.workers.fill(
        set,
        edition,
        given.draft.recordTypes.map((t) => t.key),
      );
      if (asked !== this.asked) return;
      const [{ proxy }, { moving, sumOfFigures }] = await Promise.all([import('comlink'), import('./heaps.ts')]);
      const complete = await Promise.all(
        this.workers.all.map(({ work, alive }, share) =>
          alive(
            work.run(
              { ...toRun, share, of: workers },
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
      this.workers.end();
    }
  }

  /** Shows the last run on live records where it answers this question, and follows it while it goes on. */
  async follow(question: LiveQuestion): Promise<void> {
    const asked = ++this.asked;
    this.question = '';
    [this.state, this.types, this.problem, this.asker] = ['not begun', [], undefined, undefined];
    [this.done, this.all, this.spent] = [0, 0, 0];
    for (const { work } of this.workers.all) void work.cancel();
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
    for (const { work } of this.workers.all) void work.cancel();
  }

  /** The records of a move or of a message, the first of them, and what they have in common. */
  async behind(type: string, of: Behind, most: number): Promise<RecordsBehind> {
    if (this.live) return behindLiveRun(type, of, most);
    const found = await Promise.all(
      this.workers.all.map(({ work, alive }) =>
        alive(
          'message' in of ? work.stopped(type, of.message, most) : work.moved(type, of.field, of.from, of.to, most),
        ),
      ),
    );
    const records = found.flatMap((f) => f.records).sort((a, b) => Number(a.id) - Number(b.id));
    const [first] = this.workers.all;
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
    await this.workers.start(1);
    const [{ work, alive }] = this.workers.all as [DryRunWorker];
    return alive(work.witnesses(plain(live), plain(draft)));
  }

  close(): void {
    this.asked++;
    this.question = '';
    this.workers.end();
  }
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
